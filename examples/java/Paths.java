import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;

/** Paths and patterns (2): members are String, elements Integer from 0, open segments Any. */
final class Paths {
  enum Any {
    ELEMENT,
    KEY
  }

  private static final Pattern SEGMENT = Pattern.compile("\\[(?:(\\d+)|(\"(?:[^\"\\\\]|\\\\.)*\"))\\]|\\.?([^.\\[\\]\"'*\\s\\p{Cc}]+)");

  private Paths() {}

  static List<Object> read(String text) {
    List<Object> segments = new ArrayList<>();
    for (var found = SEGMENT.matcher(text); found.find(); )
      segments.add(
          found.group(1) != null
              ? (Object) Integer.valueOf(found.group(1))
              : found.group(2) != null ? Json.read(found.group(2)) : found.group(3));
    return segments;
  }

  static String print(List<?> segments) {
    StringBuilder text = new StringBuilder();
    for (Object segment : segments)
      if (segment == Any.ELEMENT || segment instanceof Integer)
        text.append('[').append(segment == Any.ELEMENT ? "*" : segment).append(']');
      else if (segment == Any.KEY) text.append(".*");
      else if (((String) segment).matches("[^.\\[\\]\"'*\\s\\p{Cc}]+")) text.append(text.isEmpty() ? "" : ".").append(segment);
      else text.append('[').append(Json.write(segment)).append(']');
    return text.toString();
  }

  /** All patterns that match a path, the narrowest first: what is open further to the right comes first. */
  static List<List<Object>> patternsFor(List<Object> segments) {
    if (segments.isEmpty()) return List.of(List.of());
    Object last = segments.get(segments.size() - 1);
    List<List<Object>> before = patternsFor(segments.subList(0, segments.size() - 1));
    List<List<Object>> patterns = new ArrayList<>();
    for (Object segment : new Object[] {last, last instanceof Integer ? Any.ELEMENT : Any.KEY})
      for (List<Object> head : before) {
        List<Object> pattern = new ArrayList<>(head);
        pattern.add(segment);
        patterns.add(pattern);
      }
    return patterns;
  }

  /** A JSON Pointer as a URI fragment (RFC 6901 section 6). */
  static String pointer(List<?> segments) {
    StringBuilder pointer = new StringBuilder("#");
    for (Object segment : segments) {
      pointer.append('/');
      String.valueOf(segment).replace("~", "~0").replace("/", "~1").codePoints().forEach(point -> pointer.append(escaped(point)));
    }
    return pointer.toString();
  }

  private static String escaped(int point) {
    String one = Character.toString(point);
    boolean kept = point < 128 && (Character.isLetterOrDigit(point) || "-._~!'()*@:$&+,;=".contains(one));
    return kept ? one : URLEncoder.encode(one, StandardCharsets.UTF_8).replace("+", "%20");
  }
}
