import { keyed } from '../../../base/keyed.js';
/**
 * Beginnings of words, by language, that say that something is wrong and not what would be right. Words that are also used
 * to say what is right ("valid", "correct") are not among them.
 */
export const VAGUE_WORDS: Readonly<Record<string, readonly string[]>> = keyed({
  en: ['invalid', 'incorrect', 'illegal', 'wrong', 'not valid', 'not correct', 'not acceptable', 'malformed', 'bad value'],
  de: ['ungültig', 'fehlerhaft', 'unzulässig', 'nicht gültig', 'nicht korrekt', 'nicht zulässig', 'inkorrekt', 'falsch'],
  fr: ['invalide', 'incorrect', 'erroné', 'non valide', 'pas valide'],
  es: ['inválid', 'incorrect', 'no válid', 'no es válid', 'erróne'],
  it: ['non valid', 'non è valid', 'errat', 'scorrett', 'non corrett'],
  pt: ['inválid', 'incorret', 'incorrect', 'errad', 'não é válid'],
  nl: ['ongeldig', 'onjuist', 'niet geldig', 'niet juist', 'foutief'],
  pl: ['nieprawidłow', 'niepoprawn', 'błędn', 'nieważn'],
  cs: ['neplatn', 'nesprávn', 'chybn'],
  uk: ['недійсн', 'неправильн', 'некоректн', 'хибн'],
  tr: ['geçersiz', 'yanlış', 'hatalı'],
  ar: ['غير صالح', 'غير صحيح', 'خاطئ'],
  he: ['לא תקין', 'אינו תקין', 'לא חוקי', 'שגוי'],
  ja: ['無効', '不正', '正しくありません', '正しくない'],
  zh: ['无效', '不正确', '不合法', '错误'],
  ko: ['유효하지 않', '잘못', '올바르지 않'],
  ru: ['недействительн', 'неправильн', 'неверн', 'некорректн', 'ошибочн'],
  sv: ['ogiltig', 'felaktig', 'inte giltig', 'inkorrekt'],
  da: ['ugyldig', 'forkert', 'ikke gyldig', 'fejlagtig'],
  nb: ['ugyldig', 'feilaktig', 'ikke gyldig', 'gal verdi'],
  fi: ['virheelli', 'epäkelpo', 'ei kelpaa', 'väär'],
  hu: ['érvénytelen', 'hibás', 'helytelen'],
  ro: ['nevalid', 'invalid', 'incorect', 'greșit', 'eronat'],
  el: ['μη έγκυρ', 'άκυρ', 'λανθασμέν', 'εσφαλμέν'],
  sk: ['neplatn', 'nesprávn', 'chybn'],
  vi: ['không hợp lệ', 'không đúng', 'sai'],
  id: ['tidak valid', 'tidak sah', 'salah', 'tidak benar'],
  hi: ['अमान्य', 'गलत', 'ग़लत'],
  th: ['ไม่ถูกต้อง', 'ผิดพลาด'],
});
