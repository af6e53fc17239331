import type { Locale } from '../core/locale/tag.js';

/** What the page itself says; the rest of it are labels and messages of the workspace. */
export interface PageWords {
  readonly send: string;
  readonly sending: string;
  readonly accepted: string;
  readonly noAnswer: string;
  readonly language: string;
  readonly rows: string;
  readonly choose: string;
}

const words = (
  send: string,
  sending: string,
  accepted: string,
  noAnswer: string,
  language: string,
  rows: string,
  choose: string,
): PageWords => ({ send, sending, accepted, noAnswer, language, rows, choose });

const WORDS: Readonly<Record<string, PageWords>> = {
  en: words(
    'Send',
    'Sending…',
    'Accepted.',
    'The service did not answer. Please try again.',
    'Language',
    'Rows',
    'Please choose',
  ),
  de: words(
    'Senden',
    'Wird gesendet …',
    'Angenommen.',
    'Der Dienst hat nicht geantwortet. Bitte noch einmal versuchen.',
    'Sprache',
    'Zeilen',
    'Bitte wählen',
  ),
  fr: words(
    'Envoyer',
    'Envoi…',
    'Accepté.',
    'Le service n’a pas répondu. Veuillez réessayer.',
    'Langue',
    'Lignes',
    'Veuillez choisir',
  ),
  es: words('Enviar', 'Enviando…', 'Aceptado.', 'El servicio no ha respondido. Inténtelo de nuevo.', 'Idioma', 'Filas', 'Elija'),
  it: words('Invia', 'Invio in corso…', 'Accettato.', 'Il servizio non ha risposto. Riprovare.', 'Lingua', 'Righe', 'Scegliere'),
  pt: words('Enviar', 'Enviando…', 'Aceito.', 'O serviço não respondeu. Tente novamente.', 'Idioma', 'Linhas', 'Escolha'),
  'pt-PT': words('Enviar', 'A enviar…', 'Aceite.', 'O serviço não respondeu. Tente novamente.', 'Língua', 'Linhas', 'Escolha'),
  nl: words(
    'Versturen',
    'Bezig met versturen…',
    'Geaccepteerd.',
    'De dienst antwoordde niet. Probeer het opnieuw.',
    'Taal',
    'Rijen',
    'Maak een keuze',
  ),
  pl: words(
    'Wyślij',
    'Wysyłanie…',
    'Przyjęto.',
    'Usługa nie odpowiedziała. Proszę spróbować ponownie.',
    'Język',
    'Wiersze',
    'Proszę wybrać',
  ),
  cs: words('Odeslat', 'Odesílá se…', 'Přijato.', 'Služba neodpověděla. Zkuste to znovu.', 'Jazyk', 'Řádky', 'Vyberte'),
  uk: words('Надіслати', 'Надсилання…', 'Прийнято.', 'Служба не відповіла. Спробуйте ще раз.', 'Мова', 'Рядки', 'Виберіть'),
  tr: words('Gönder', 'Gönderiliyor…', 'Kabul edildi.', 'Hizmet yanıt vermedi. Yeniden deneyin.', 'Dil', 'Satırlar', 'Seçin'),
  ar: words(
    'إرسال',
    'جارٍ الإرسال…',
    'تم القبول.',
    'لم تستجب الخدمة. يُرجى المحاولة مرة أخرى.',
    'اللغة',
    'الصفوف',
    'يُرجى الاختيار',
  ),
  he: words('שליחה', 'נשלח…', 'התקבל.', 'השירות לא השיב. נא לנסות שוב.', 'שפה', 'שורות', 'נא לבחור'),
  ja: words(
    '送信',
    '送信中…',
    '受け付けました。',
    'サービスから応答がありません。もう一度お試しください。',
    '言語',
    '行数',
    '選んでください',
  ),
  zh: words('发送', '正在发送…', '已接受。', '服务没有响应。请重试。', '语言', '行数', '请选择'),
  ko: words(
    '보내기',
    '보내는 중…',
    '접수되었습니다.',
    '서비스가 응답하지 않습니다. 다시 시도해 주십시오.',
    '언어',
    '행 수',
    '선택하십시오',
  ),
};

const ENGLISH = WORDS.en ?? words('Send', '…', '', '', '', '', '');

/** The page's words in a locale's language, else in English. */
export const pageWords = (locale: Locale): PageWords => WORDS[locale] ?? WORDS[locale.split('-')[0] ?? ''] ?? ENGLISH;
