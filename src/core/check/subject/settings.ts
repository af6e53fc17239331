import type { Finding, FindingKind, Severity } from '../../finding.js';
import { parsePattern, printPath, type Pattern } from '../../path/path.js';
import { isCoveredBy } from '../../path/cover.js';
import { formsNamed } from '../../texts/form-set.js';

/** The workspace's settings of one kind of finding: its severity, and where. */
export interface KindSetting {
  readonly kind: FindingKind;
  readonly severity: Severity | 'off';
  /** Only for these; everywhere where absent. */
  readonly locales?: readonly string[] | undefined;
  readonly forms?: readonly string[] | undefined;
  readonly paths?: readonly Pattern[] | undefined;
}

function coversPath(patterns: readonly Pattern[], path: string | undefined): boolean {
  if (path === undefined) return false;
  let meant: Pattern;
  try {
    meant = parsePattern(path);
  } catch {
    return false;
  }
  return patterns.some((pattern) => printPath(pattern) === path || isCoveredBy(pattern, meant));
}

function isMeant({ kind, locales, forms, paths }: KindSetting, finding: Finding): boolean {
  if (kind !== finding.kind) return false;
  if (locales && (finding.locale === undefined || !locales.includes(finding.locale))) return false;
  if (
    forms &&
    (finding.form === undefined || !formsNamed(finding.form).some((form) => forms.includes(form)))
  )
    return false;
  return paths === undefined || coversPath(paths, finding.path);
}

/**
 * The finding as the settings have it, the last that speaks of it; nothing where it is switched
 * off.
 * @param quiet whether it is off where no setting speaks of it
 */
export function asSet(
  finding: Finding,
  settings: readonly KindSetting[],
  quiet = false,
): Finding | undefined {
  const setting = settings.findLast((one) => isMeant(one, finding));
  if (!setting) return quiet ? undefined : finding;
  return setting.severity === 'off' ? undefined : { ...finding, severity: setting.severity };
}
