// SPDX-License-Identifier: MIT
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * A shape of body: what fills the slots of its template with an answer (section 6.1 of packs.md). What is left out is
 * null here.
 */
final class Template {
  private static final Pattern SLOT = Pattern.compile("<([a-z][a-z-]*)(?:\\(\"([^\"]*)\"\\))?>");
  private static final Set<String> SLOTS = Set.of(
      "title", "status", "type", "problem", "instance", "locale", "direction", "time", "address", "more", "extensions", "request-id",
      "trace-id", "details", "detail", "uri", "count", "fields", "texts", "broken", "field", "path", "pointer", "place", "fragment",
      "header", "parameter", "in", "part", "code", "text", "inline", "beside", "members", "member-fragments", "member-fields",
      "member-paths", "member-pointers", "nearest", "missing", "developer", "inlines", "codes");

  private final String media;
  private final Object body;
  private final String prefix;
  private final boolean isXml;
  private final boolean isMarkup;
  private final Bodies.Answer answer;

  private Template(Map<?, ?> shape, String prefix, Bodies.Answer answer) {
    media = (String) shape.get("mediaType");
    body = shape.get("body");
    this.prefix = prefix;
    this.answer = answer;
    isXml = media.equals("application/problem+xml");
    isMarkup = !isXml && (media.contains("html") || media.contains("xml"));
  }

  /** The body's text. */
  static String write(Map<?, ?> shape, String prefix, Bodies.Answer answer) {
    return new Template(shape, prefix, answer).written();
  }

  private String written() {
    Object value = fill(body, null);
    if (isXml) {
      StringBuilder members = new StringBuilder();
      ((Map<?, ?>) value).forEach((name, one) -> members.append(xml((String) name, one)));
      return "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<problem xmlns=\"urn:ietf:rfc:7807\" xml:lang=\""
          + answer.head().get("locale") + "\">" + members + "</problem>";
    }
    return value instanceof String text && !media.contains("json") ? text : Json.write(value);
  }

  /** @param at the violations of the repetition, and whether they are all of a field; null outside of one */
  private Object fill(Object node, At at) {
    if (node instanceof String text) return text(text, at);
    if (node instanceof List<?> list) return mapped(list, one -> fill(one, at));
    if (!(node instanceof Map<?, ?> members)) return node;
    if (members.containsKey("each")) return each(members);
    if (members.containsKey("when") && members.containsKey("node"))
      return fill(members.get(isThere(slot((String) members.get("when"), at)) ? "node" : "otherwise"), at);
    if (members.get("join") instanceof List<?> parts && Set.of("join", "with").containsAll(members.keySet()))
      return join(parts, (String) members.get("with"), at);
    if (members.keySet().equals(Set.of("unless-empty")))
      return fill(members.get("unless-empty"), at) instanceof Map<?, ?> made && !made.isEmpty() ? made : null;
    Map<String, Object> made = new LinkedHashMap<>();
    for (var member : members.entrySet()) {
      Object value = fill(member.getValue(), at);
      if (member.getKey().equals("...")) {
        if (value instanceof Map<?, ?> spread) spread.forEach((name, one) -> made.put((String) name, one));
      } else if (value != null || member.getValue() == null) made.put((String) member.getKey(), value);
    }
    return made;
  }

  /** What is repeated: a violation, or all of a field. */
  private record At(List<Bodies.Sentence> all, boolean isField) {}

  private static List<Object> mapped(Collection<?> list, Function<Object, Object> write) {
    List<Object> made = new ArrayList<>();
    for (Object one : list) made.add(write.apply(one));
    return made;
  }

  private static boolean isThere(Object value) {
    if (value instanceof Number number) return number.doubleValue() != 0;
    return value != null && !value.equals("") && !value.equals(false) && !(value instanceof List<?> list && list.isEmpty());
  }

  private Object each(Map<?, ?> node) {
    String each = (String) node.get("each");
    List<At> entries = each.equals("violation")
        ? answer.sentences().stream().map(one -> new At(List.of(one), false)).toList()
        : groups().stream()
            .filter(one -> each.equals("field") || one.get(0).in().equals("body") == each.equals("body-field"))
            .map(one -> new At(one, true)).toList();
    if (!node.containsKey("key")) return mapped(entries, one -> fill(node.get("node"), (At) one));
    Map<String, Object> made = new LinkedHashMap<>();
    for (At one : entries) {
      Object value = fill(node.get("node"), one);
      if (value != null) made.put(shown(text((String) node.get("key"), one)), value);
    }
    return made;
  }

  private Object join(List<?> nodes, String separator, At at) {
    List<Object> parts = new ArrayList<>();
    for (Object node : nodes) {
      Object value = fill(node, at);
      for (Object one : value instanceof List<?> list ? list : java.util.Collections.singletonList(value))
        if (one != null && !one.equals("")) parts.add(one);
    }
    return separator == null ? parts : parts.stream().map(Template::shown).collect(Collectors.joining(separator));
  }

  private Object text(String text, At at) {
    Matcher only = SLOT.matcher(text);
    if (only.matches() && only.group(2) == null && SLOTS.contains(only.group(1))) {
      Object value = slot(only.group(1), at);
      if (value instanceof List<?> list) return mapped(list, one -> one instanceof String said ? escaped(said) : one);
      return value instanceof String said ? escaped(said) : value;
    }
    return SLOT.matcher(text).replaceAll(found -> {
      if (!SLOTS.contains(found.group(1))) return Matcher.quoteReplacement(found.group());
      Object value = slot(found.group(1), at);
      String written = found.group(2) != null && value instanceof List<?> list
          ? list.stream().map(one -> escaped(shown(one))).collect(Collectors.joining(found.group(2)))
          : escaped(shown(value));
      return Matcher.quoteReplacement(written);
    });
  }

  private static String shown(Object value) {
    return value == null ? "" : value instanceof String text ? text : Json.write(value);
  }

  private String escaped(String text) {
    return isMarkup ? marked(text).replace("'", "&#39;") : text;
  }

  private static String marked(String text) {
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;").replace("\"", "&quot;");
  }

  /** RFC 9457 appendix B: members are elements, the entries of a list are `i`. */
  private static String xml(String name, Object value) {
    if (value == null) return "";
    StringBuilder inside = new StringBuilder();
    if (value instanceof List<?> list) list.forEach(one -> inside.append(xml("i", one)));
    else if (value instanceof Map<?, ?> members)
      members.forEach((key, one) -> inside.append(xml(((String) key).matches("[A-Za-z_][A-Za-z0-9_.-]*") ? (String) key : "member", one)));
    else inside.append(marked(shown(value)).replaceAll("[\\x00-\\x08\\x0B\\x0C\\x0E-\\x1F\\uFFFE\\uFFFF]", ""));
    return "<" + name + ">" + inside + "</" + name + ">";
  }

  private Collection<List<Bodies.Sentence>> groups() {
    return answer.sentences().stream()
        .collect(Collectors.groupingBy(one -> one.in() + " " + Paths.print(one.path()), LinkedHashMap::new, Collectors.toList()))
        .values();
  }

  private Object slot(String name, At at) {
    Object own = at == null ? null : at.isField() ? ofField(name, at.all()) : ofViolation(name, at.all().get(0));
    return own == null ? ofAnswer(name) : own;
  }

  private Object ofAnswer(String name) {
    List<Bodies.Sentence> all = answer.sentences();
    Map<String, Object> head = answer.head();
    return switch (name) {
      case "detail" -> head.get("detail").equals("") ? null : head.get("detail");
      case "uri" -> head.get("type").equals("about:blank") ? null : head.get("type");
      case "count" -> all.size() + answer.more();
      case "more" -> answer.more();
      case "fields" -> groups().stream().map(one -> Paths.print(one.get(0).path())).toList();
      case "texts" -> all.stream().map(Bodies.Sentence::text).toList();
      case "broken" -> head.get("problem").equals("invalid-fields") ? true : null;
      default -> head.get(name);
    };
  }

  private Object ofField(String name, List<Bodies.Sentence> all) {
    return switch (name) {
      case "texts" -> all.stream().map(Bodies.Sentence::text).toList();
      case "text" -> all.stream().map(Bodies.Sentence::text).collect(Collectors.joining(" "));
      case "inlines" -> all.stream().map(Bodies.Sentence::beside).toList();
      case "beside" -> all.stream().map(Bodies.Sentence::inline).filter(Objects::nonNull).findFirst().orElse(null);
      case "codes" -> all.stream().map(Bodies.Sentence::code).toList();
      case "field", "pointer", "in" -> ofViolation(name, all.get(0));
      default -> null;
    };
  }

  private Object ofViolation(String name, Bodies.Sentence one) {
    boolean isBody = one.in().equals("body");
    return switch (name) {
      case "field" -> Paths.print(one.path());
      case "path" -> one.path();
      case "pointer" -> isBody ? Paths.plain(one.path()) : one.place();
      case "place" -> one.place();
      case "fragment" -> isBody ? one.place() : null;
      case "header" -> one.in().equals("header") ? one.place() : null;
      case "parameter" -> isBody || one.in().equals("header") ? null : one.place();
      case "in" -> one.in();
      case "part" -> isBody ? null : one.in();
      case "code" -> one.code();
      case "text" -> one.text();
      case "inline" -> one.beside();
      case "beside" -> one.inline();
      case "members" -> members(one, Paths::plain);
      case "member-fragments" -> members(one, Paths::pointer);
      case "member-fields" -> members(one, Paths::print);
      case "member-paths" -> one.members();
      case "member-pointers" -> members(one, path -> prefix + Paths.plain(path));
      case "nearest" -> isBody ? prefix + Paths.plain(present(one)) : null;
      case "missing" -> isBody && one.lacks() && !one.path().isEmpty() ? prefix + Paths.plain(one.path()) : null;
      default -> null;
    };
  }

  private static List<String> members(Bodies.Sentence one, Function<List<?>, String> write) {
    return one.members() == null ? null : one.members().stream().map(write).toList();
  }

  /** The nearest place around a path that is in the request: what is missing is not. */
  private List<Object> present(Bodies.Sentence one) {
    Set<String> lacking = answer.sentences().stream()
        .filter(other -> other.lacks() && other.in().equals("body")).map(other -> Paths.plain(other.path())).collect(Collectors.toSet());
    List<Object> path = one.path();
    while (one.lacks() && !path.isEmpty() && lacking.contains(Paths.plain(path))) path = path.subList(0, path.size() - 1);
    return path;
  }
}
