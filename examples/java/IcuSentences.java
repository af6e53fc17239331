// SPDX-License-Identifier: MIT
import com.ibm.icu.text.MessageFormat;
import com.ibm.icu.util.ULocale;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Date;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.MatchResult;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Says violations in words from a pack of ICU messages (`zeitwort pack --sentences --format icu`), with ICU4J. Written from
 * docs/reference/packs.md section 9. All but the messages themselves is as in plain sentences.
 */
final class IcuSentences extends Sentences {
  private static final Pattern ASKED = Pattern.compile("\\{\\s*(\\w+)\\s*[,}]", Pattern.UNICODE_CHARACTER_CLASS);
  private static final Pattern DATED = Pattern.compile("\\{\\s*(\\w+_raw)\\s*,\\s*(?:date|time)\\b", Pattern.UNICODE_CHARACTER_CLASS);
  private static final Pattern NEEDED = Pattern.compile("\\{\\s*(\\w+)_raw\\s*,\\s*(?!select\\b)", Pattern.UNICODE_CHARACTER_CLASS);
  private static final Pattern COUNTED = Pattern.compile("\\{\\s*(\\w+)_raw\\s*,\\s*(?:plural|selectordinal)\\b", Pattern.UNICODE_CHARACTER_CLASS);
  private static final Pattern SELECTED = Pattern.compile("\\{\\s*(\\w+_raw)\\s*,\\s*select\\b", Pattern.UNICODE_CHARACTER_CLASS);
  private static final Pattern TOKEN = Pattern.compile("\\x{E000}(\\d+)\\x{E001}");

  private final ULocale locale;
  private final Map<String, MessageFormat> messages = new ConcurrentHashMap<>();

  IcuSentences(Map<?, ?> pack) {
    super(pack);
    locale = ULocale.forLanguageTag((String) pack.get("icu"));
  }

  @Override
  Sentences with(Map<?, ?> pack) {
    return new IcuSentences(pack);
  }

  @Override
  String fill(Object sentence, Map<String, Object> told) {
    String text = (String) sentence;
    List<String> names = new ArrayList<>(new LinkedHashSet<>(ASKED.matcher(text).results().map(found -> found.group(1)).toList()));
    Set<String> dated = new LinkedHashSet<>(DATED.matcher(text).results().map(found -> found.group(1)).toList());
    Set<String> selected = new LinkedHashSet<>(SELECTED.matcher(text).results().map(found -> found.group(1)).toList());
    NEEDED.matcher(text).results().forEach(found -> check(found, text, told));
    // A token stands for each text, so that ICU neither reads nor changes it; the text comes when the rest is said.
    Map<String, Object> values = new HashMap<>();
    for (int at = 0; at < names.size(); at += 1) {
      String name = names.get(at);
      values.put(name, name.endsWith("_raw") ? raw(told, name, dated.contains(name), selected.contains(name)) : "\uE000" + at + "\uE001");
    }
    Map<String, Object> written = new HashMap<>(told);
    COUNTED.matcher(text).results().map(found -> found.group(1)).forEach(name -> written.computeIfPresent(name, (key, value) -> rounded(value)));
    // A format is not for several threads at once.
    MessageFormat message = messages.computeIfAbsent(text, one -> new MessageFormat(one, locale));
    String said = ((MessageFormat) message.clone()).format(values);
    return TOKEN
        .matcher(said)
        .replaceAll(
            found ->
                Matcher.quoteReplacement(
                    written(names.get(Integer.parseInt(found.group(1))), written, said.substring(0, found.start()))));
  }

  /** Whatever is inside of a case may not be said; a select without a value takes "other". */
  private static void check(MatchResult found, String text, Map<String, Object> told) {
    long depth = text.substring(0, found.start()).chars().map(one -> one == '{' ? 1 : one == '}' ? -1 : 0).sum();
    if (depth == 0 && told.get(found.group(1)) == null) throw new Missing(found.group(1));
  }

  /** The value itself, to choose a case by or to write in a style. */
  private Object raw(Map<String, Object> told, String name, boolean isDate, boolean isSelected) {
    Object value = told.get(name.substring(0, name.length() - "_raw".length()));
    if (value == null) return "";
    // What chooses a case of a select is a text.
    if (isSelected || !(value instanceof String text)) return value instanceof Number && !isSelected ? value : shown(value);
    if (!isDate) return value;
    // ICU writes in the machine's zone: what the clock shows in the pack's is made an instant of that.
    LocalDateTime shown =
        text.contains("T")
            ? OffsetDateTime.parse(text).atZoneSameInstant(ZoneId.of((String) pack.get("zone"))).toLocalDateTime()
            : LocalDate.parse(text).atStartOfDay();
    return Date.from(shown.atZone(ZoneId.systemDefault()).toInstant());
  }
}
