import { forSarif } from '../../core/text/media.js';
import { createHash } from 'node:crypto';
import { DEVIATIONS, type Recorded } from '../../core/audit/recording.js';
import type { TallyData } from '../../core/audit/tally.js';
import { counted, paint, width } from './out.js';
import { wrap } from './table.js';

const placeText = ({ file, entry, line }: Recorded['location']): string =>
  line !== undefined ? `${file}:${line}` : entry !== undefined ? `${file}, entry ${entry}` : file;

/** The result for people: by endpoint, each deviation with how often it came and where first. */
export function auditText({ responses, deviating, endpoints }: TallyData): string {
  const blocks = endpoints
    .filter(({ deviations }) => deviations.length > 0)
    .map(({ endpoint, responses: all, deviations, more }) => {
      const lines = deviations.map(({ kind, message, count, first }) => {
        const sentence = wrap(message, width() - 5).join('\n    ');
        const often =
          count === 1 ? placeText(first) : `${count} times, first in ${placeText(first)}`;
        return `  ${paint.red(kind)}  ${paint.dim(often)}\n    ${sentence}`;
      });
      const rest = more > 0 ? [`  and ${more} more`] : [];
      return [`${paint.bold(endpoint)}  ${counted(all, 'response')}`, ...lines, ...rest].join('\n');
    });
  const summary = `${counted(responses, 'response')} of ${counted(endpoints.length, 'endpoint')}: ${deviating === 0 ? 'all keep the contract' : `${deviating} depart from the contract`}`;
  return [...blocks, summary].join('\n\n');
}

/** Returns the audit as JSON. */
export function auditJson({ responses, deviating, endpoints }: TallyData): object {
  return {
    summary: { responses, deviating, endpoints: endpoints.length },
    endpoints: endpoints.map(({ endpoint, responses: all, deviations, more }) => ({
      endpoint,
      responses: all,
      deviations,
      ...(more > 0 ? { more } : {}),
    })),
  };
}

const uriOf = (file: string): string => file.split('/').map(encodeURIComponent).join('/');

/** SARIF 2.1.0, with a rule for each kind and a result for each deviation. */
export function auditSarif({ endpoints }: TallyData, version: string): object {
  const ids = Object.keys(DEVIATIONS);
  const rules = Object.entries(DEVIATIONS).map(([id, text]) => ({
    id,
    shortDescription: { text: forSarif(text) },
  }));
  const results = endpoints.flatMap(({ endpoint, deviations }) =>
    deviations.map(({ kind, message, count, first }) => ({
      ruleId: kind,
      ruleIndex: ids.indexOf(kind),
      level: 'error',
      message: { text: forSarif(`${endpoint}: ${message}`) },
      occurrenceCount: count,
      locations: [
        {
          physicalLocation: {
            artifactLocation: { uri: uriOf(first.file) },
            ...(first.line === undefined ? {} : { region: { startLine: first.line } }),
          },
          logicalLocations: [
            {
              fullyQualifiedName: endpoint,
              ...(first.entry === undefined ? {} : { name: `entry ${first.entry}` }),
            },
          ],
        },
      ],
      partialFingerprints: {
        'deviation/v1': createHash('sha256')
          .update(`${kind} ${endpoint} ${message}`)
          .digest('hex')
          .slice(0, 32),
      },
    })),
  );
  return {
    $schema: 'https://docs.oasis-open.org/sarif/sarif/v2.1.0/os/schemas/sarif-schema-2.1.0.json',
    version: '2.1.0',
    runs: [{ tool: { driver: { name: 'zeitwort', version, rules } }, results }],
  };
}
