// SPDX-License-Identifier: MIT
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.math.BigDecimal;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.Executors;
import java.util.function.Predicate;
import java.util.regex.Pattern;

/**
 * A small backend that answers with the bodies of the packs: java Server FOLDER [PORT], the folder with the packs. It takes
 * visitor passes at POST /passes and checks them by itself, as backends do.
 */
final class Server {
  private static final int LARGEST = 64 * 1024;
  private static final Predicate<String> EMAIL = Pattern.compile("[^\\s@]+@[^\\s@]+\\.[^\\s@]+").asMatchPredicate();

  private final Map<String, Sentences> languages = new TreeMap<>(String.CASE_INSENSITIVE_ORDER);

  private Server(Path folder) throws IOException {
    try (var files = Files.newDirectoryStream(folder, "*.sentences.json")) {
      for (Path file : files) {
        Sentences sentences = new Sentences((Map<?, ?>) Json.read(Files.readString(file)));
        languages.put((String) sentences.pack.get("locale"), sentences);
      }
    }
  }

  private Sentences preferred(String header) {
    Map<?, ?> settings = (Map<?, ?>) languages.values().iterator().next().pack.get("settings");
    return languages.get(Languages.preferred(header, settings));
  }

  private static boolean isDate(String text) {
    try {
      return text.length() == 10 && LocalDate.parse(text) != null;
    } catch (DateTimeParseException error) {
      return false;
    }
  }

  private static Map<String, Object> violation(String path, String rule, Object value) {
    Map<String, Object> violation = new HashMap<>(Map.of("path", path, "rule", rule));
    violation.put("value", value);
    return violation;
  }

  private static void text(Map<?, ?> visit, String name, Predicate<String> form, List<Map<String, Object>> into) {
    Object value = visit.get(name);
    if (value == null || value instanceof String text && text.isBlank()) into.add(violation(name, "required", value));
    else if (!(value instanceof String)) into.add(violation(name, name.equals("day") ? "format" : "type", value));
    else if (!form.test((String) value)) into.add(violation(name, "format", value));
  }

  /** All that is wrong with a visitor pass, in the order of its fields. */
  private static List<Map<String, Object>> violationsOf(Object given) {
    List<Map<String, Object>> found = new ArrayList<>();
    if (!(given instanceof Map<?, ?> visit)) return List.of(violation("", "type", given));
    text(visit, "visitor", any -> true, found);
    text(visit, "email", EMAIL, found);
    text(visit, "day", Server::isDate, found);
    Object guests = visit.get("guests");
    if (guests == null) return found;
    if (!(guests instanceof BigDecimal number) || number.stripTrailingZeros().scale() > 0) found.add(violation("guests", "type", guests));
    else if (number.signum() < 0) found.add(violation("guests", "minimum", guests));
    else if (number.compareTo(BigDecimal.valueOf(5)) > 0) found.add(violation("guests", "maximum", guests));
    return found;
  }

  /** Where a place in a text is, as malformed-body tells it. */
  private static Map<String, Object> lineAndColumn(String text, int at) {
    String before = text.substring(0, at);
    return Map.of("line", before.chars().filter(one -> one == '\n').count() + 1, "column", at - before.lastIndexOf('\n'));
  }

  /** What is refused; null where the visit was accepted, which is written into `accepted`. */
  private Bodies.Answer answer(HttpExchange exchange, Sentences sentences, Map<String, Object> accepted) throws IOException {
    if (!exchange.getRequestURI().getPath().equals("/passes")) return Bodies.problem(sentences, "not-found", Map.of());
    if (!exchange.getRequestMethod().equals("POST")) {
      exchange.getResponseHeaders().set("Allow", "POST");
      return Bodies.problem(sentences, "wrong-method", Map.of());
    }
    byte[] content = exchange.getRequestBody().readNBytes(LARGEST + 1);
    if (content.length == 0 || content.length > LARGEST)
      return Bodies.problem(sentences, content.length == 0 ? "empty-body" : "too-large", Map.of());
    String media = exchange.getRequestHeaders().getFirst("Content-Type");
    if (media == null || !media.split(";")[0].strip().equalsIgnoreCase("application/json")) {
      exchange.getResponseHeaders().set("Accept", "application/json");
      return Bodies.problem(sentences, "wrong-media-type", Map.of());
    }
    String text = new String(content, StandardCharsets.UTF_8);
    try {
      Object visit = Json.read(text);
      List<Map<String, Object>> found = violationsOf(visit);
      if (!found.isEmpty()) return Bodies.fields(sentences, "visitor-pass", found);
      accepted.put("pass", ((Map<?, ?>) visit).get("visitor"));
      return null;
    } catch (Json.Malformed error) {
      return Bodies.problem(sentences, "malformed-body", lineAndColumn(text, error.at));
    }
  }

  private void handle(HttpExchange exchange) throws IOException {
    Sentences sentences = preferred(exchange.getRequestHeaders().getFirst("Accept-Language"));
    Map<String, Object> accepted = new HashMap<>();
    Bodies.Answer answer;
    try {
      answer = answer(exchange, sentences, accepted);
    } catch (RuntimeException error) { // whatever it is, a client is told nothing of it
      System.err.println(error);
      answer = Bodies.problem(sentences, "unexpected", Map.of());
    }
    Bodies.Body body = answer == null ? new Bodies.Body("application/json", Json.write(accepted)) : Bodies.body(sentences, answer, null);
    exchange.getResponseHeaders().set("Content-Type", body.mediaType());
    if (answer != null) {
      exchange.getResponseHeaders().set("Content-Language", (String) sentences.pack.get("locale"));
      exchange.getResponseHeaders().set("Vary", "Accept-Language");
    }
    byte[] text = body.text().getBytes(StandardCharsets.UTF_8);
    boolean hasBody = !exchange.getRequestMethod().equals("HEAD");
    exchange.sendResponseHeaders(answer == null ? 201 : answer.status(), hasBody ? text.length : -1);
    if (hasBody) exchange.getResponseBody().write(text);
    exchange.close();
  }

  public static void main(String[] args) throws IOException {
    Server backend = new Server(Path.of(args[0]));
    HttpServer server = HttpServer.create(new InetSocketAddress("127.0.0.1", args.length > 1 ? Integer.parseInt(args[1]) : 8080), 0);
    server.createContext("/", backend::handle);
    server.setExecutor(Executors.newCachedThreadPool());
    server.start();
    System.out.println("http://127.0.0.1:" + server.getAddress().getPort() + "/passes");
  }
}
