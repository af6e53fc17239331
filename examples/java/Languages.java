// SPDX-License-Identifier: MIT
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** The language that a client likes best (docs/reference/packs.md section 7). */
final class Languages {
  private static final Pattern RANGE =
      Pattern.compile("\\s*(\\*|[a-z0-9]+(?:-[a-z0-9*]+)*)\\s*(?:;\\s*q=(0(?:\\.\\d{0,3})?|1(?:\\.0{0,3})?)\\s*)?");

  /** Longer headers are no preference of anyone. */
  private static final int LONGEST = 1024;

  private record Range(String tag, double weight) {}

  private Languages() {}

  /** One of the languages of a pack's settings; the header may be null. */
  static String preferred(String header, Map<?, ?> settings) {
    String text = header == null ? "" : header.substring(0, Math.min(LONGEST, header.length())).toLowerCase(Locale.ROOT);
    List<Range> ranges = new ArrayList<>();
    for (String part : text.split(",")) {
      Matcher found = RANGE.matcher(part);
      if (found.matches()) ranges.add(new Range(found.group(1), found.group(2) == null ? 1 : Double.parseDouble(found.group(2))));
    }
    ranges.sort(Comparator.comparingDouble(Range::weight).reversed());
    List<String> wanted = ranges.stream().filter(one -> one.weight() > 0).map(Range::tag).toList();
    List<String> refused = ranges.stream().filter(one -> one.weight() == 0).map(Range::tag).toList();
    Set<String> locales = new LinkedHashSet<>(List.of((String) settings.get("original")));
    ((List<?>) settings.get("locales")).forEach(one -> locales.add((String) one));
    List<String> free = locales.stream().filter(one -> covering(refused, one) == 0 || covering(wanted, one) > covering(refused, one)).toList();
    Map<String, String> parents = new HashMap<>();
    if (settings.get("parents") instanceof Map<?, ?> known) known.forEach((child, parent) -> parents.put(lower(child), lower(parent)));
    for (String tag : wanted) {
      List<String> chain = wider(tag, parents);
      List<String> near = chain.stream().flatMap(one -> locales.stream().filter(one::equalsIgnoreCase)).toList();
      String last = chain.get(chain.size() - 1);
      List<String> candidates =
          tag.equals("*")
              ? List.copyOf(locales)
              : !near.isEmpty() ? near : locales.stream().filter(one -> wider(lower(one), parents).contains(last)).toList();
      for (String one : candidates) if (free.contains(one)) return one;
    }
    return free.isEmpty() ? locales.iterator().next() : free.get(0);
  }

  /** How long the longest of the ranges is that a language falls under; 0 where none does. */
  private static int covering(List<String> ranges, String locale) {
    String tag = locale.toLowerCase(Locale.ROOT) + "-";
    return ranges.stream().filter(one -> tag.startsWith(one + "-")).mapToInt(String::length).max().orElse(0);
  }

  private static String lower(Object tag) {
    return ((String) tag).toLowerCase(Locale.ROOT);
  }

  /** A tag, and those that stand in for it (section 7), in small letters. */
  private static List<String> wider(String tag, Map<String, String> parents) {
    List<String> all = new ArrayList<>();
    for (String one = tag; !one.isEmpty() && !one.equals("und"); ) {
      all.add(one);
      // A subtag of one letter goes with the one behind it.
      String shorter = one.contains("-") ? one.replaceFirst("(-.)*(-[^-]*)?$", "") : "";
      one = parents.getOrDefault(one, shorter);
    }
    return all;
  }
}
