// SPDX-License-Identifier: MIT
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Predicate;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Says violations in words from a pack of plain sentences: nothing but Java's own library. Written from
 * docs/reference/packs.md; the numbers in the comments are its sections.
 */
class Sentences {
  /** A sentence asks for an argument that the violation does not have. */
  static final class Missing extends RuntimeException {
    private static final long serialVersionUID = 1;

    Missing(String name) {
      super(name, null, false, false);
    }
  }

  /** A violation in words; `inline` is the text for beside the input, or null. */
  record Said(String text, String inline) {}

  private static final String RTL = "\\u0590-\\u08FF\\uFB1D-\\uFDFF\\uFE70-\\uFEFC\\x{10800}-\\x{10FFF}\\x{1E800}-\\x{1EFFF}";
  private static final Pattern HAS_RTL = Pattern.compile("[" + RTL + "]");
  private static final Pattern HAS_LTR = Pattern.compile("(?![" + RTL + "])\\p{L}");
  private static final Pattern FROM_RIGHT = Pattern.compile("(?!\\p{Nd})[" + RTL + "]|\\p{Co}");
  private static final String SIGN = "[^\\p{L}\\p{Nd}\\p{Co}\\p{IsWhite_Space}()" + RTL + "]";
  private static final Pattern SIGNED = Pattern.compile("\\p{Nd}" + SIGN + "|" + SIGN + "\\p{Nd}");
  private static final Pattern NO_DIGIT = Pattern.compile("\\P{Nd}");
  private static final Pattern LONE = Pattern.compile("\\p{Cs}");
  private static final Pattern BREAKS = Pattern.compile("[\t\n\u000B\f\r\\u0085\\u2028\\u2029]+");
  private static final Pattern UNWANTED = Pattern.compile("[\\p{Cc}\\u061C\\u200E\\u200F\\u202A-\\u202E\\u2066-\\u2069]");

  static final String MASK = "•••";
  private static final String QUOTED = "_quoted";
  /** Of a list with more entries than the first number so many are named. */
  private static final int MOST_ENTRIES = 20;

  private static final int FEW_ENTRIES = 10;

  final Map<?, ?> pack;
  private final boolean rtl;
  private final Pattern slot;
  private final Map<String, Sentences> others = new ConcurrentHashMap<>();
  private final Map<String, Paths.Fields> fields = new HashMap<>();

  Sentences(Map<?, ?> pack) {
    if (!(pack.get("sentences") instanceof BigDecimal version) || version.intValue() != 1)
      throw new IllegalArgumentException("this is not a pack of sentences of version 1");
    this.pack = pack;
    rtl = "rtl".equals(pack.get("direction"));
    List<?> around = pack.get("slot") instanceof List<?> marks ? marks : List.of("{", "}");
    String open = (String) around.get(0);
    String close = (String) around.get(1);
    // A per cent sign is doubled where slots begin with one.
    slot = Pattern.compile((open.startsWith("%") ? "%%|" : "") + Pattern.quote(open) + "([\\p{L}\\p{M}\\p{N}_]+)" + Pattern.quote(close));
    ((Map<?, ?>) pack.get("fields")).forEach((form, keys) -> fields.put((String) form, new Paths.Fields(((Map<?, ?>) keys).keySet())));
  }

  /** What stands under names one below the other; null where one is missing. */
  private Object under(String... names) {
    Object found = pack;
    for (String name : names) found = found instanceof Map<?, ?> members ? members.get(name) : null;
    return found;
  }

  /** The sentence of a violation as the vectors have it: path, rule, and where they are known in, as, params and value. */
  Said say(String form, Map<?, ?> violation) {
    Found found = lookedUp(form, violation);
    List<?> texts = found.text() instanceof List<?> several ? several : found.text() == null ? List.of() : List.of(found.text());
    for (int at = 0; at < texts.size(); at += 1) {
      String whole = saidOrNull(texts.get(at), found.told());
      if (whole == null) continue;
      Object beside = found.inline() instanceof List<?> several ? several.get(at) : at == 0 ? found.inline() : null;
      String inline = saidOrNull(beside, found.told());
      return new Said(whole, "".equals(inline) ? null : inline);
    }
    String last = saidOrNull(found.otherwise(), found.told());
    return new Said(last == null ? codeOf(violation) : last, null);
  }

  /** The arguments of a violation, its sentence, its text for beside the input, and what stands in (2, 4). */
  private record Found(Map<String, Object> told, Object text, Object inline, Object otherwise) {}

  /** The path of a violation as it may be shown, and whether what stands there is secret (6). */
  record Shown(List<Object> path, boolean isSecret) {}

  Shown shownPath(String form, Map<?, ?> violation) {
    List<Object> path = Paths.read((String) violation.get("path"));
    List<Paths.Match> matches = matching(form, violation);
    if (matches.isEmpty()) return new Shown(path, false);
    Map<?, ?> field = (Map<?, ?>) under("fields", form, matches.get(0).key());
    int hidden = field.get("hidden") instanceof Number known ? known.intValue() : 0;
    return new Shown(path.subList(0, path.size() - hidden), field.containsKey("secret"));
  }

  private Found lookedUp(String form, Map<?, ?> violation) {
    List<Object> segments = Paths.read((String) violation.get("path"));
    Map<String, Object> told = new HashMap<>();
    if (violation.get("params") instanceof Map<?, ?> params) params.forEach((name, value) -> told.put((String) name, yesOrNo(value)));
    if (violation.containsKey("value")) told.put("value", asText(violation.get("value"), gate(form, violation)));
    Object text = null;
    Object inline = null;
    Object otherwise = null;
    boolean isFirst = true;
    for (Paths.Match match : matching(form, violation)) {
      String key = match.key();
      Map<?, ?> found = (Map<?, ?>) under("fields", form, key);
      if (isFirst) {
        List<?> names = (List<?>) found.get("positions");
        for (int nth = 0; nth < names.size(); nth += 1) {
          int at = match.open().get(nth);
          Object segment = segments.get(at < 0 ? segments.size() + at : at);
          told.putIfAbsent((String) names.get(nth), segment instanceof Integer n ? (Object) (n + 1) : segment);
        }
        if (found.containsKey("secret")) for (String one : List.of("value", "name")) told.computeIfPresent(one, (name, value) -> MASK);
        isFirst = false;
      }
      if (otherwise == null) otherwise = found.get("otherwise");
      if (text == null) {
        text = under("forms", form, key, codeOf(violation));
        inline = text == null ? null : under("inlines", form, key, codeOf(violation));
      }
    }
    return new Found(told, text, inline, otherwise);
  }

  private List<Paths.Match> matching(String form, Map<?, ?> violation) {
    return matching(form, violation, Paths.read((String) violation.get("path")));
  }

  private List<Paths.Match> matching(String form, Map<?, ?> violation, List<Object> path) {
    String in = violation.get("in") instanceof String part ? part : "body";
    if (!fields.containsKey(form)) throw new IllegalArgumentException("there is no form \"" + form + "\" in the pack");
    return fields.get(form).matching(in, path);
  }

  /** The entry of `becomes` for a violation, or null (6). */
  Map<?, ?> becomes(String form, Map<?, ?> violation) {
    for (Paths.Match match : matching(form, violation))
      if (under("becomes", form, match.key(), codeOf(violation)) instanceof Map<?, ?> entry) return entry;
    return null;
  }

  /** Title and detail of the problem that a broken rule is. */
  String[] problemOf(String form, Map<?, ?> violation, Map<?, ?> entry) {
    Map<String, Object> told = lookedUp(form, violation).told();
    String[] said = problem((String) entry.get("problem"), told);
    String title = saidOrNull(entry.get("title"), told);
    String detail = saidOrNull(entry.get("detail"), told);
    return new String[] {title == null ? said[0] : title, detail == null ? said[1] : detail};
  }

  private String saidOrNull(Object sentence, Map<String, Object> told) {
    try {
      return sentence == null ? null : said(sentence, told);
    } catch (Missing missing) {
      return null;
    }
  }

  static String codeOf(Map<?, ?> violation) {
    return (String) (violation.get("as") != null ? violation.get("as") : violation.get("rule"));
  }

  /** Title and detail of a problem. */
  String[] problem(String name, Map<String, ?> params) {
    Map<String, Object> told = new HashMap<>(params);
    told.putIfAbsent("located", params.containsKey("line") && params.containsKey("column") ? "yes" : "no");
    told.putIfAbsent("timed", params.containsKey("seconds") ? "yes" : "no");
    String title = saidOrNull(under("problems", name, "title"), told);
    String detail = saidOrNull(under("problems", name, "detail"), told);
    return new String[] {title == null ? (String) under("problems", name, "phrase") : title, detail == null ? "" : detail};
  }

  /** A sentence, in the language that it is in where that is another (1). */
  private String said(Object sentence, Map<String, Object> told) {
    if (!(sentence instanceof Map<?, ?> cases) || !cases.containsKey("sentence")) return fill(sentence, told);
    return others.computeIfAbsent((String) cases.get("locale"), this::other).said(cases.get("sentence"), told);
  }

  private Sentences other(String locale) {
    Map<Object, Object> other = new HashMap<>(pack);
    other.putAll((Map<?, ?>) under("locales", locale));
    return with(other);
  }

  /** The same kind of reader of another pack. */
  Sentences with(Map<?, ?> pack) {
    return new Sentences(pack);
  }

  /** What stands for a name (4); behind `_quoted` the text in the marks of the language. */
  private Object argument(String name, Map<String, Object> told) {
    Object value = name.endsWith(QUOTED) ? told.get(name.substring(0, name.length() - QUOTED.length())) : null;
    if (told.get(name) != null || value == null) return told.get(name);
    String text = shown(value instanceof List<?> ? shown(value) : value);
    return ((String) pack.get("quoted")).replace("{text}", isolated(text, rtl));
  }

  /** A parameter, with a truth value as a `select` asks for it. */
  private static Object yesOrNo(Object value) {
    return value instanceof Boolean holds ? (holds ? "yes" : "no") : value;
  }

  /** A value as a text: a text as it is, all else as JSON with a space behind `,` and `:`. */
  private static String asText(Object value) {
    return asText(value, path -> false);
  }

  private static String asText(Object value, Predicate<List<Object>> hides) {
    if (value instanceof String text) return text;
    StringBuilder json = new StringBuilder();
    Json.write(value, json, " ", " ", hides, List.of());
    return json.toString();
  }

  /** Whether a part of a violation's value is secret: by its place, or by the name of a secret field (4). */
  private Predicate<List<Object>> gate(String form, Map<?, ?> violation) {
    if (!(under("secrets", form) instanceof List<?> names)) return path -> false;
    List<Object> around = Paths.read((String) violation.get("path"));
    return path -> {
      List<Object> whole = new ArrayList<>(around);
      whole.addAll(path);
      return names.contains(path.get(path.size() - 1))
          || matching(form, violation, whole).stream().anyMatch(match -> under("fields", form, match.key(), "secret") != null);
    };
  }

  /** A list as the language joins it. */
  private String joined(List<String> entries) {
    int count = entries.size();
    if (count > MOST_ENTRIES)
      return String.join(under("lists", "mark").toString(), entries.subList(0, FEW_ENTRIES))
          + under("lists", "mark")
          + "… ("
          + inDigits(String.valueOf(count))
          + ")";
    if (count < 2) return count == 0 ? "" : entries.get(0);
    String said = put(count == 2 ? "two" : "end", entries.get(count - 2), entries.get(count - 1));
    for (int at = count - 3; at >= 0; at -= 1) said = put(at == 0 ? "start" : "middle", entries.get(at), said);
    return said;
  }

  private String put(String pattern, String one, String other) {
    String[] parts = ((String) under("lists", pattern)).split("\\{[01]\\}", -1);
    return parts[0] + one + parts[1] + other + parts[2];
  }

  final String shown(Object value) {
    if (value instanceof List<?> entries) return joined(entries.stream().map(one -> isolated(shown(asText(one)), rtl)).toList());
    String text = asText(value);
    text = UNWANTED.matcher(BREAKS.matcher(LONE.matcher(text).replaceAll("\uFFFD")).replaceAll(" ")).replaceAll("");
    List<String> letters = Pattern.compile("\\X").matcher(text).results().map(found -> found.group()).toList();
    int longest = ((Number) pack.get("longest")).intValue();
    return letters.size() <= longest ? text : String.join("", letters.subList(0, longest - 1)).stripTrailing() + "…";
  }

  /** A number with the language's digits and marks, thousands set apart as it does. */
  private String number(Object value) {
    String[] parts = Numbers.digitsOf(value);
    List<?> sizes = (List<?>) under("numbers", "sizes");
    StringBuilder text = new StringBuilder();
    int end = parts[0].length();
    int last = ((Number) sizes.get(0)).intValue();
    if (end < last + ((Number) under("numbers", "least")).intValue()) last = end;
    for (int size = last; end > 0; size = ((Number) sizes.get(1)).intValue()) {
      int start = Math.max(0, end - size);
      text.insert(0, (start > 0 ? (String) under("numbers", "group") : "") + parts[0].substring(start, end));
      end = start;
    }
    if (!parts[1].isEmpty()) text.append(under("numbers", "decimal")).append(parts[1]);
    return (Numbers.decimal(value).signum() < 0 ? under("numbers", "minus") : "") + inDigits(text.toString());
  }

  private String inDigits(String text) {
    int[] digits = ((String) under("numbers", "digits")).codePoints().toArray();
    StringBuilder written = new StringBuilder();
    text.chars().forEach(one -> written.appendCodePoint(one >= '0' && one <= '9' ? digits[one - '0'] : one));
    return written.toString();
  }

  /** The text in an isolate (U+2068, U+2069) where it runs against what is around it (5). */
  private static String isolated(String text, boolean rtl) {
    String rest = text.replaceAll("\u2068[^\u2069]*\u2069", "");
    boolean against = HAS_RTL.matcher(rest).find();
    if (rtl) {
      boolean neutral = rest.equals(text) && NO_DIGIT.matcher(text).find() && !FROM_RIGHT.matcher(text).find();
      against = HAS_LTR.matcher(rest).find() || SIGNED.matcher(rest).find() || neutral;
    }
    return against ? "\u2068" + text + "\u2069" : text;
  }

  /** What stands in a slot; inside of an isolate the direction is the other one. */
  final String written(String name, Map<String, Object> told, String before) {
    Object value = argument(name, told);
    if (value == null) throw new Missing(name);
    if (value instanceof Number) return number(value);
    boolean inside = before.lastIndexOf('\u2068') > before.lastIndexOf('\u2069');
    return isolated(name.endsWith(QUOTED) && told.get(name) == null ? (String) value : shown(value), rtl != inside);
  }

  /** A sentence with its cases chosen (3) and its slots filled. */
  String fill(Object sentence, Map<String, Object> told) {
    Map<String, Object> known = new HashMap<>(told);
    while (sentence instanceof Map<?, ?> cases) {
      sentence = chosen(cases, told);
      if (cases.get("plural") instanceof String name) known.computeIfPresent(name, (key, value) -> rounded(value));
    }
    String text = (String) sentence;
    return slot.matcher(text)
        .replaceAll(
            found ->
                found.group(1) == null ? "%" : Matcher.quoteReplacement(written(found.group(1), known, text.substring(0, found.start()))));
  }

  /** What stands in the cases of a plural for its number. */
  static Object rounded(Object value) {
    BigDecimal number = Numbers.numeric(value);
    return number == null ? value : Numbers.rounded(number);
  }

  private Object chosen(Map<?, ?> sentence, Map<String, Object> told) {
    Map<?, ?> cases = (Map<?, ?>) sentence.get("cases");
    Object found;
    if (sentence.get("select") instanceof String name) found = cases.get(String.valueOf(told.get(name)));
    else {
      Object value = told.get(sentence.get("plural"));
      if (value == null) throw new Missing((String) sentence.get("plural"));
      BigDecimal number = Numbers.numeric(value);
      if (number == null) return cases.get("other");
      found = cases.get("=" + number.stripTrailingZeros().toPlainString());
      if (found == null) found = cases.get(Numbers.category(Numbers.rounded(number), (Map<?, ?>) pack.get("plurals")));
    }
    return found == null ? cases.get("other") : found;
  }
}
