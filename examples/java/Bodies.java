// SPDX-License-Identifier: MIT
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Collectors;

/** Error bodies in every shape of a pack, from its sentences and templates (section 6 of packs.md). */
final class Bodies {
  private static final Set<String> OF_MEMBERS = Set.of("additionalProperties", "unevaluatedProperties", "propertyNames");
  private static final Set<String> LACKING = Set.of("required", "dependentRequired");
  /** Statuses of problems that come alone, whatever else is broken. */
  private static final Set<Integer> ALONE = Set.of(401, 403, 404, 405, 410);

  private Bodies() {}

  /** A violation in words, and where it stands; `inline` and `members` may be null. */
  record Sentence(List<Object> path, String in, String place, String code, String text, String inline, boolean lacks, List<List<Object>> members) {
    String beside() {
      return inline == null ? text : inline;
    }
  }

  /** What is to be said, before it takes a shape; `head` has what slots of the answer say. */
  record Answer(Map<String, Object> head, List<Sentence> sentences, int more) {
    int status() {
      return ((Number) head.get("status")).intValue();
    }
  }

  /** The body of an answer in a shape. */
  record Body(String mediaType, String text) {}

  /** @param shape its name; that of the settings where it is null */
  static Body body(Sentences sentences, Answer answer, String shape) {
    Map<?, ?> settings = settings(sentences);
    Map<?, ?> found = (Map<?, ?>) ((Map<?, ?>) settings.get("shapes")).get(shape == null ? settings.get("shape") : shape);
    return new Body((String) found.get("mediaType"), Template.write(found, (String) settings.get("prefix"), answer));
  }

  /** What is answered to anything but broken rules. */
  static Answer problem(Sentences sentences, String name, Map<String, ?> params) {
    return answered(sentences, name, sentences.problem(name, params), List.of(), 0);
  }

  private static Map<?, ?> settings(Sentences sentences) {
    return (Map<?, ?>) sentences.pack.get("settings");
  }

  private static Map<?, ?> about(Sentences sentences, String problem) {
    return (Map<?, ?>) ((Map<?, ?>) sentences.pack.get("problems")).get(problem);
  }

  private static Answer answered(Sentences sentences, String problem, String[] said, List<Sentence> told, int more) {
    Map<String, Object> head = new HashMap<>(Map.of("problem", problem, "title", said[0], "detail", said[1], "extensions", Map.of()));
    for (String name : List.of("type", "status")) head.put(name, about(sentences, problem).get(name));
    for (String name : List.of("locale", "direction")) head.put(name, sentences.pack.get(name));
    return new Answer(head, told, more);
  }

  /** The answer to a request that broke rules; the violations come in the order of the document. */
  static Answer fields(Sentences sentences, String form, List<? extends Map<?, ?>> violations) {
    Map<?, ?> settings = settings(sentences);
    Answer whole = wholeProblem(sentences, form, violations);
    if (whole != null) return whole;
    List<Sentence> all = new ArrayList<>();
    Map<String, Sentence> firsts = new LinkedHashMap<>();
    for (Map<?, ?> violation : violations) {
      Sentence one = sentence(sentences, form, violation);
      all.add(one);
      firsts.putIfAbsent(one.in() + " " + one.place(), one);
    }
    List<Sentence> kept = "first".equals(settings.get("perField")) ? List.copyOf(firsts.values()) : all;
    boolean isAlone = "first".equals(settings.get("detail"));
    int most = isAlone ? 1 : ((Number) settings.get("maxViolations")).intValue();
    List<Sentence> told = kept.subList(0, Math.min(most, kept.size()));
    int more = isAlone ? 0 : kept.size() - told.size();
    String[] said = sentences.problem("invalid-fields", Map.of("count", isAlone ? 1 : kept.size(), "fields", isAlone ? 1 : firsts.size()));
    if (!"own".equals(settings.get("detail")))
      said[1] = told.stream().map(Sentence::text).collect(Collectors.joining((String) settings.get("separator")));
    return answered(sentences, "invalid-fields", said, told, more);
  }

  /** The problem that a broken rule is, where that is the answer: alone, or where all that is broken is one. */
  private static Answer wholeProblem(Sentences sentences, String form, List<? extends Map<?, ?>> violations) {
    Map<?, ?> first = null;
    int found = 0;
    for (Map<?, ?> violation : violations) {
      Map<?, ?> entry = sentences.becomes(form, violation);
      if (entry == null) continue;
      found += 1;
      if (first == null) first = violation;
      if (ALONE.contains(((Number) about(sentences, (String) entry.get("problem")).get("status")).intValue()))
        return become(sentences, form, violation, entry);
    }
    return first != null && found == violations.size() ? become(sentences, form, first, sentences.becomes(form, first)) : null;
  }

  private static Answer become(Sentences sentences, String form, Map<?, ?> violation, Map<?, ?> entry) {
    return answered(sentences, (String) entry.get("problem"), sentences.problemOf(form, violation, entry), List.of(), 0);
  }

  private static Sentence sentence(Sentences sentences, String form, Map<?, ?> violation) {
    Sentences.Shown shown = sentences.shownPath(form, violation);
    List<Object> path = new ArrayList<>(shown.path());
    String rule = (String) violation.get("rule");
    String in = Objects.requireNonNullElse((String) violation.get("in"), "body");
    Map<?, ?> params = violation.get("params") instanceof Map<?, ?> given ? given : Map.of();
    if (OF_MEMBERS.contains(rule) && params.get("name") instanceof String name) path.add(shown.isSecret() ? Sentences.MASK : name);
    Sentences.Said said = sentences.say(form, violation);
    List<List<Object>> members = null;
    if (Set.of("atLeastOne", "exactlyOne").contains(rule) && params.get("members") instanceof List<?> named) {
      members = new ArrayList<>();
      for (Object one : named) {
        List<Object> member = new ArrayList<>(path);
        member.addAll(Paths.read((String) one));
        members.add(member);
      }
    }
    String place = in.equals("body") ? Paths.pointer(path) : path.stream().map(String::valueOf).collect(Collectors.joining("."));
    boolean isInline = !Boolean.FALSE.equals(settings(sentences).get("inline"));
    return new Sentence(path, in, place, Sentences.codeOf(violation), said.text(), isInline ? said.inline() : null, LACKING.contains(rule), members);
  }
}
