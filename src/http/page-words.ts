import { truncations } from '../core/locale/chain.js';
import type { Locale } from '../core/locale/tag.js';
import { keyed } from '../core/base/keyed.js';

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

const WORDS: Readonly<Record<string, PageWords>> = keyed({
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
  ru: words('Отправить', 'Отправка…', 'Принято.', 'Служба не ответила. Попробуйте ещё раз.', 'Язык', 'Строки', 'Выберите'),
  sk: words('Odoslať', 'Odosiela sa…', 'Prijaté.', 'Služba neodpovedala. Skúste to znova.', 'Jazyk', 'Riadky', 'Vyberte'),
  ro: words('Trimiteți', 'Se trimite…', 'Acceptat.', 'Serviciul nu a răspuns. Încercați din nou.', 'Limba', 'Rânduri', 'Alegeți'),
  hu: words(
    'Küldés',
    'Küldés folyamatban…',
    'Elfogadva.',
    'A szolgáltatás nem válaszolt. Próbálja újra.',
    'Nyelv',
    'Sorok',
    'Válasszon',
  ),
  fi: words('Lähetä', 'Lähetetään…', 'Hyväksytty.', 'Palvelu ei vastannut. Yritä uudelleen.', 'Kieli', 'Rivit', 'Valitse'),
  sv: words('Skicka', 'Skickar…', 'Godtaget.', 'Tjänsten svarade inte. Försök igen.', 'Språk', 'Rader', 'Välj'),
  da: words('Send', 'Sender…', 'Accepteret.', 'Tjenesten svarede ikke. Prøv igen.', 'Sprog', 'Rækker', 'Vælg'),
  nb: words('Send', 'Sender…', 'Godtatt.', 'Tjenesten svarte ikke. Prøv igjen.', 'Språk', 'Rader', 'Velg'),
  el: words(
    'Αποστολή',
    'Γίνεται αποστολή…',
    'Έγινε δεκτό.',
    'Η υπηρεσία δεν απάντησε. Δοκιμάστε ξανά.',
    'Γλώσσα',
    'Γραμμές',
    'Επιλέξτε',
  ),
  vi: words(
    'Gửi',
    'Đang gửi…',
    'Đã chấp nhận.',
    'Dịch vụ không trả lời. Vui lòng thử lại.',
    'Ngôn ngữ',
    'Số hàng',
    'Vui lòng chọn',
  ),
  id: words('Kirim', 'Mengirim…', 'Diterima.', 'Layanan tidak menjawab. Silakan coba lagi.', 'Bahasa', 'Baris', 'Silakan pilih'),
  hi: words('भेजें', 'भेजा जा रहा है…', 'स्वीकार किया गया।', 'सेवा ने उत्तर नहीं दिया। फिर से कोशिश करें।', 'भाषा', 'पंक्तियाँ', 'कृपया चुनें'),
  th: words('ส่ง', 'กำลังส่ง…', 'รับแล้ว', 'บริการไม่ตอบ โปรดลองอีกครั้ง', 'ภาษา', 'จำนวนแถว', 'โปรดเลือก'),
  'zh-Hant': words('送出', '正在送出…', '已接受。', '服務沒有回應。請重試。', '語言', '列數', '請選擇'),
});

const ENGLISH = WORDS.en ?? words('Send', '…', '', '', '', '', '');

/** The page's words in a locale's language, else in English. */
export const pageWords = (locale: Locale): PageWords =>
  [locale, ...truncations(locale)].flatMap((one) => WORDS[one] ?? [])[0] ?? ENGLISH;
