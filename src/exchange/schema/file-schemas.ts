import { isJsonMedia } from '../../core/base/json-media.js';
import type { LooseObject } from '../../core/reading.js';

/** Whether what has a media type is a text in a form, and no file. */
export const isTextual = (type: string): boolean => type.startsWith('text/') || isJsonMedia(type);

/**
 * Whether a schema is of a file in a form: OpenAPI 3.1 says so by the media type alone (OpenAPI
 * 3.1.0, Considerations for File Uploads); what has an encoding is a text.
 */
export const isUploaded = ({
  type,
  format,
  contentMediaType,
  contentEncoding,
}: LooseObject): boolean =>
  (type === undefined || type === 'string') &&
  format === undefined &&
  contentEncoding === undefined &&
  typeof contentMediaType === 'string' &&
  !isTextual(contentMediaType);
