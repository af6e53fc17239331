// SPDX-License-Identifier: MIT
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** The digits of numbers, and the plural categories that UTS 35 part 3 section 5 finds by them (docs/reference/packs.md section 3). */
final class Numbers {
  private static final Pattern RELATION = Pattern.compile("(\\w)(?: % (\\d+))? (!?)= (.+)");

  private static final Pattern NUMERIC = Pattern.compile("-?[0-9]+(?:\\.[0-9]+)?(?:[eE][-+]?[0-9]{1,4})?");

  private Numbers() {}

  static BigDecimal decimal(Object value) {
    return value instanceof BigDecimal number ? number : new BigDecimal(String.valueOf(value));
  }

  /** The digits of a number without its sign or zeros at the end: before the mark and behind it. */
  static String[] digitsOf(Object value) {
    String[] parts = decimal(value).abs().stripTrailingZeros().toPlainString().split("\\.");
    return new String[] {parts[0], parts.length > 1 ? parts[1] : ""};
  }

  /** A number as ECMAScript writes it: with an exponent from 1e21 and below 1e-6. */
  static String written(Object value) {
    BigDecimal number = decimal(value).stripTrailingZeros();
    int exponent = number.precision() - number.scale() - 1;
    if (number.signum() == 0 || (exponent >= -6 && exponent < 21)) return number.toPlainString();
    BigDecimal digits = number.movePointLeft(exponent).stripTrailingZeros();
    return digits.toPlainString() + "e" + (exponent < 0 ? "" : "+") + exponent;
  }

  /** The number that a value is, or that a text writes; else null. */
  static BigDecimal numeric(Object value) {
    if (value instanceof Number) return decimal(value);
    return value instanceof String text && NUMERIC.matcher(text).matches() ? new BigDecimal(text) : null;
  }

  /** A number with three decimals at the most, half to even. */
  static BigDecimal rounded(Object value) {
    BigDecimal number = decimal(value).stripTrailingZeros();
    return number.scale() > 3 ? number.setScale(3, RoundingMode.HALF_EVEN) : number;
  }

  /** The plural category by the conditions of the pack (UTS 35 part 3 section 5). */
  static String category(Object value, Map<?, ?> plurals) {
    for (var one : plurals.entrySet())
      for (String either : ((String) one.getValue()).split(" or "))
        if (List.of(either.split(" and ")).stream().allMatch(relation -> holds(relation, value))) return (String) one.getKey();
    return "other";
  }

  private static boolean holds(String relation, Object value) {
    String[] digits = digitsOf(value);
    Matcher parts = RELATION.matcher(relation);
    if (!parts.matches()) throw new IllegalArgumentException(relation);
    BigDecimal number =
        switch (parts.group(1)) {
          case "n" -> decimal(value).abs();
          case "i" -> new BigDecimal(digits[0]);
          case "v", "w" -> new BigDecimal(digits[1].length());
          case "f", "t" -> new BigDecimal(digits[1].isEmpty() ? "0" : digits[1]);
          default -> BigDecimal.ZERO;
        };
    if (parts.group(2) != null) number = number.remainder(new BigDecimal(parts.group(2)));
    boolean inside = false;
    for (String range : parts.group(4).split(",")) {
      String[] ends = range.split("\\.\\.");
      boolean whole = number.stripTrailingZeros().scale() <= 0;
      inside |= whole && number.compareTo(new BigDecimal(ends[0])) >= 0 && number.compareTo(new BigDecimal(ends[ends.length - 1])) <= 0;
    }
    return inside != parts.group(3).equals("!");
  }
}
