// SPDX-License-Identifier: MIT
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads and writes JSON, which Java's own library does not; use the library that you have instead. Numbers are BigDecimal. */
final class Json {
  private static final Pattern NUMBER = Pattern.compile("-?(?:0|[1-9][0-9]*)(?:\\.[0-9]+)?(?:[eE][+-]?[0-9]{1,4})?");

  private final String text;
  private int at;
  private int depth;

  private Json(String text) {
    this.text = text;
  }

  static final class Malformed extends RuntimeException {
    private static final long serialVersionUID = 1;
    final int at;

    Malformed(int at) {
      super("no JSON at character " + at);
      this.at = at;
    }
  }

  /** @throws Malformed where it is none */
  static Object read(String text) {
    Json json = new Json(text);
    Object value = json.value();
    json.space();
    if (json.at < text.length()) throw json.malformed();
    return value;
  }

  private Malformed malformed() {
    return new Malformed(Math.min(at, text.length()));
  }

  private void space() {
    while (at < text.length() && " \t\n\r".indexOf(text.charAt(at)) >= 0) at += 1;
  }

  private char next() {
    space();
    if (at >= text.length()) throw malformed();
    return text.charAt(at);
  }

  private boolean takes(String word) {
    space();
    if (!text.startsWith(word, at)) return false;
    at += word.length();
    return true;
  }

  private void expect(String word) {
    if (!takes(word)) throw malformed();
  }

  private Object value() {
    if (++depth > 200) throw malformed();
    try {
      return switch (next()) {
        case '{' -> object();
        case '[' -> array();
        case '"' -> string();
        case 't', 'f' -> takes("true") ? Boolean.TRUE : falseOrFail();
        case 'n' -> {
          expect("null");
          yield null;
        }
        default -> number();
      };
    } finally {
      depth -= 1;
    }
  }

  private Boolean falseOrFail() {
    expect("false");
    return Boolean.FALSE;
  }

  private Map<String, Object> object() {
    Map<String, Object> members = new LinkedHashMap<>();
    expect("{");
    if (takes("}")) return members;
    do {
      if (next() != '"') throw malformed();
      String name = string();
      expect(":");
      members.put(name, value());
    } while (takes(","));
    expect("}");
    return members;
  }

  private List<Object> array() {
    List<Object> elements = new ArrayList<>();
    expect("[");
    if (takes("]")) return elements;
    do elements.add(value());
    while (takes(","));
    expect("]");
    return elements;
  }

  private String string() {
    StringBuilder read = new StringBuilder();
    for (at += 1; at < text.length() && text.charAt(at) >= ' '; at += 1) {
      char one = text.charAt(at);
      if (one == '"') {
        at += 1;
        return read.toString();
      }
      read.append(one == '\\' ? escaped() : one);
    }
    throw malformed();
  }

  private char escaped() {
    at += 1;
    int which = at < text.length() ? "\"\\/bfnrtu".indexOf(text.charAt(at)) : -1;
    if (which < 0) throw malformed();
    if (which < 8) return "\"\\/\b\f\n\r\t".charAt(which);
    String hex = text.substring(Math.min(at + 1, text.length()), Math.min(at + 5, text.length()));
    if (!hex.matches("[0-9a-fA-F]{4}")) throw malformed();
    at += 4;
    return (char) Integer.parseInt(hex, 16);
  }

  private BigDecimal number() {
    Matcher shape = NUMBER.matcher(text).region(at, text.length());
    if (!shape.lookingAt()) throw malformed();
    at = shape.end();
    return new BigDecimal(shape.group());
  }

  /** As JSON without spaces, all letters as they are. */
  static String write(Object value) {
    StringBuilder text = new StringBuilder();
    write(value, text, "", "");
    return text.toString();
  }

  /** @param comma what stands behind a comma, and colon behind a colon */
  static void write(Object value, StringBuilder into, String comma, String colon) {
    write(value, into, comma, colon, path -> false, List.of());
  }

  /** @param hides says of the path of a part whether it is secret */
  static void write(Object value, StringBuilder into, String comma, String colon, Predicate<List<Object>> hides, List<Object> path) {
    if (!path.isEmpty() && hides.test(path)) quote(Sentences.MASK, into);
    else if (value instanceof Map<?, ?> members) {
      String before = "{";
      for (var member : members.entrySet()) {
        into.append(before);
        quote(String.valueOf(member.getKey()), into);
        write(member.getValue(), into.append(':').append(colon), comma, colon, hides, with(path, String.valueOf(member.getKey())));
        before = "," + comma;
      }
      into.append(members.isEmpty() ? "{}" : "}");
    } else if (value instanceof List<?> elements) {
      String before = "[";
      for (int at = 0; at < elements.size(); at += 1) {
        write(elements.get(at), into.append(before), comma, colon, hides, with(path, at));
        before = "," + comma;
      }
      into.append(elements.isEmpty() ? "[]" : "]");
    } else if (value instanceof String text) quote(text, into);
    else into.append(value instanceof Number number ? Numbers.written(number) : String.valueOf(value));
  }

  private static List<Object> with(List<Object> path, Object segment) {
    List<Object> longer = new ArrayList<>(path);
    longer.add(segment);
    return longer;
  }

  private static void quote(String text, StringBuilder into) {
    into.append('"');
    for (char one : text.toCharArray()) {
      int which = "\"\\\b\f\n\r\t".indexOf(one);
      if (which >= 0) into.append('\\').append("\"\\bfnrt".charAt(which));
      else if (one < ' ') into.append(String.format("\\u%04x", (int) one));
      else into.append(one);
    }
    into.append('"');
  }
}
