import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Error bodies as RFC 9457 has them, from the sentences of a pack. */
final class Bodies {
  private static final Set<String> ABOUT_MEMBERS = Set.of("additionalProperties", "unevaluatedProperties", "propertyNames");

  private Bodies() {}

  /** What is answered to anything but broken rules. */
  static Map<String, Object> problem(Sentences sentences, String name, Map<String, ?> params) {
    Map<?, ?> about = (Map<?, ?>) ((Map<?, ?>) sentences.pack.get("problems")).get(name);
    String[] said = sentences.problem(name, params);
    Map<String, Object> body = new LinkedHashMap<>();
    body.put("type", about.get("type"));
    body.put("title", said[0]);
    body.put("status", about.get("status"));
    if (!said[1].isEmpty()) body.put("detail", said[1]);
    return body;
  }

  /** The answer to a request that broke rules; the violations come in the order of the document. */
  static Map<String, Object> fields(Sentences sentences, String form, List<? extends Map<?, ?>> violations) {
    long fields = violations.stream().map(one -> partOf(one) + " " + one.get("path")).distinct().count();
    Map<String, Object> body = problem(sentences, "invalid-fields", Map.of("count", violations.size(), "fields", fields));
    body.put("errors", violations.stream().map(one -> error(sentences, form, one)).toList());
    return body;
  }

  private static String partOf(Map<?, ?> violation) {
    return violation.get("in") instanceof String part ? part : "body";
  }

  private static Map<String, Object> error(Sentences sentences, String form, Map<?, ?> violation) {
    List<Object> segments = new ArrayList<>(Paths.read((String) violation.get("path")));
    if (ABOUT_MEMBERS.contains((String) violation.get("rule")) && violation.get("params") instanceof Map<?, ?> params && params.get("name") != null)
      segments.add(params.get("name"));
    String part = partOf(violation);
    Map<String, Object> error = new LinkedHashMap<>();
    if (part.equals("body")) error.put("pointer", Paths.pointer(segments));
    else error.put(part.equals("header") ? "header" : "parameter", Paths.print(segments));
    error.put("code", Sentences.codeOf(violation));
    error.put("detail", sentences.say(form, violation).text());
    return error;
  }
}
