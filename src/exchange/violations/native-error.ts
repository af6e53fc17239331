import { isObject, type Loose } from '../../core/reading.js';

/** Whether it is an error as validators of JSON Schema hand it on natively. */
export const isNativeError = (value: Loose): boolean =>
  isObject(value) &&
  typeof value.keyword === 'string' &&
  ('instancePath' in value || 'dataPath' in value) &&
  !('valid' in value);
