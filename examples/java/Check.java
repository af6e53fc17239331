// SPDX-License-Identifier: MIT
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/** Holds a reader against the vectors: java Check FOLDER [--icu], where `zeitwort pack --sentences` and `--test-vectors` wrote. */
final class Check {
  private static boolean withIcu;
  private static int alike;
  private static final List<String> differences = new ArrayList<>();

  private static void compare(String about, Object found, Object wanted) {
    if (Objects.equals(found, wanted)) alike += 1;
    else differences.add(about + ":\n  " + found + "\n  " + wanted);
  }

  private static Map<?, ?> read(Path file) throws Exception {
    return (Map<?, ?>) Json.read(Files.readString(file));
  }

  /** The reader with ICU is named, since not everybody has ICU4J. */
  private static Sentences opened(Path folder, String locale, boolean icu) throws Exception {
    Map<?, ?> pack = read(folder.resolve(locale + (icu ? ".icu.json" : ".sentences.json")));
    if (!icu) return new Sentences(pack);
    return (Sentences) Class.forName("IcuSentences").getDeclaredConstructor(Map.class).newInstance(pack);
  }

  private static void shapes(Sentences sentences, Bodies.Answer answer, Map<?, ?> wanted, String about) {
    wanted.forEach((shape, text) -> compare(about + " as " + shape, Bodies.body(sentences, answer, (String) shape).text(), text));
  }

  @SuppressWarnings("unchecked")
  private static List<Map<String, Object>> list(Map<?, ?> wanted, String name) {
    // What plain packs leave out is said with an ICU alone.
    return ((List<Map<String, Object>>) wanted.get(name)).stream().filter(one -> withIcu || !one.containsKey("icu")).toList();
  }

  @SuppressWarnings("unchecked")
  public static void main(String[] args) throws Exception {
    Path folder = Path.of(args[0]);
    withIcu = args.length > 1;
    Map<?, ?> vectors = read(folder.resolve("vectors.json"));
    Map<?, ?> settings = Map.of();
    for (var language : ((Map<String, Map<?, ?>>) vectors.get("locales")).entrySet()) {
      String locale = language.getKey();
      Sentences sentences = opened(folder, locale, withIcu);
      settings = (Map<?, ?>) sentences.pack.get("settings");
      for (var one : list(language.getValue(), "sentences")) {
        Map<?, ?> violation = (Map<?, ?>) one.get("violation");
        Sentences.Said said = sentences.say((String) one.get("form"), violation);
        String about = locale + " " + one.get("form") + " " + violation.get("path") + " " + violation.get("rule");
        compare(about, said.text(), one.get("sentence"));
        compare(about + " inline", said.inline(), one.get("inline"));
      }
      for (var one : list(language.getValue(), "problems")) {
        var answer = Bodies.problem(sentences, (String) one.get("problem"), (Map<String, Object>) one.get("params"));
        compare(locale + " " + one.get("problem"), answer.head().get("title"), one.get("title"));
        compare(locale + " " + one.get("problem"), answer.head().get("detail"), one.get("detail"));
        shapes(sentences, answer, (Map<?, ?>) one.get("bodies"), locale + " " + one.get("problem"));
      }
      for (var one : list(language.getValue(), "bodies")) {
        var answer = Bodies.fields(sentences, (String) one.get("form"), (List<Map<?, ?>>) one.get("violations"));
        compare(locale + " status", answer.head().get("status"), one.get("status"));
        for (String group : List.of("bodies", "own"))
          if (one.get(group) instanceof Map<?, ?> wanted) shapes(sentences, answer, wanted, locale + " " + one.get("form"));
      }
    }
    for (var one : list(vectors, "languages"))
      compare("Accept-Language: " + one.get("header"), Languages.preferred((String) one.get("header"), settings), one.get("language"));
    differences.stream().limit(10).forEach(System.err::println);
    System.out.println(alike + " alike, " + differences.size() + " different");
    System.exit(differences.isEmpty() ? 0 : 1);
  }
}
