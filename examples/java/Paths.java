// SPDX-License-Identifier: MIT
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;

/** Paths and patterns (2): members are String, elements Integer from 0, open segments Any. */
final class Paths {
  enum Any {
    ELEMENT,
    KEY,
    DEPTH
  }

  private static final Pattern SEGMENT = Pattern.compile("\\[(?:(\\d+)|(\"(?:[^\"\\\\]|\\\\.)*\")|\\*)\\]|\\.\\.(?=.)|\\.?([^.\\[\\]\"'*\\s\\p{Cc}]+)|\\.?\\*");
  private static final Pattern ELSEWHERE = Pattern.compile("(query|header|cookie|path):(.*)", Pattern.DOTALL);

  private Paths() {}

  static List<Object> read(String text) {
    List<Object> segments = new ArrayList<>();
    for (var found = SEGMENT.matcher(text); found.find(); )
      if (found.group(1) != null) segments.add(Integer.valueOf(found.group(1)));
      else if (found.group(2) != null) segments.add(Json.read(found.group(2)));
      else if (found.group(3) != null) segments.add(found.group(3));
      else segments.add(found.group().equals("[*]") ? Any.ELEMENT : found.group().equals("..") ? Any.DEPTH : Any.KEY);
    return segments;
  }

  static String print(List<?> segments) {
    StringBuilder text = new StringBuilder();
    for (Object segment : segments)
      if (segment instanceof Integer) text.append('[').append(segment).append(']');
      else if (((String) segment).matches("[^.\\[\\]\"'*\\s\\p{Cc}]+")) text.append(text.isEmpty() ? "" : ".").append(segment);
      else text.append('[').append(Json.write(segment)).append(']');
    return text.toString();
  }

  /** A field whose pattern matches a path, and which segments of the path it leaves open: behind `..` from the end, below 0. */
  record Match(String key, List<Integer> open) {}

  /** The fields of a form as a tree from the last segment to the first, so that a path takes no longer than it is deep. */
  static final class Fields {
    private static final class Node {
      final Map<Object, Node> to = new HashMap<>();
      Match end;
    }

    private final Map<String, Node> root = new HashMap<>();

    Fields(Iterable<?> keys) {
      for (Object one : keys) {
        String key = (String) one;
        var place = ELSEWHERE.matcher(key);
        boolean isElsewhere = place.matches();
        List<Object> pattern = read(isElsewhere ? place.group(2) : key);
        Node node = root.computeIfAbsent(isElsewhere ? place.group(1) : "body", name -> new Node());
        for (int at = pattern.size() - 1; at >= 0; at -= 1) node = node.to.computeIfAbsent(pattern.get(at), segment -> new Node());
        List<Integer> open = new ArrayList<>();
        int depth = pattern.contains(Any.DEPTH) ? pattern.indexOf(Any.DEPTH) : pattern.size();
        for (int at = 0; at < pattern.size(); at += 1)
          if (pattern.get(at) instanceof Any any && any != Any.DEPTH) open.add(at < depth ? at : at - pattern.size());
        node.end = new Match(key, open);
      }
    }

    /** The fields that match, in the order of section 2. */
    List<Match> matching(String place, List<Object> segments) {
      List<Match> found = new ArrayList<>();
      collect(root.get(place), segments, segments.size(), found);
      return found;
    }

    private void collect(Node node, List<Object> segments, int left, List<Match> found) {
      if (node == null) return;
      if (left == 0) {
        if (node.end != null) found.add(node.end);
      } else {
        Object last = segments.get(left - 1);
        collect(node.to.get(last), segments, left - 1, found);
        collect(node.to.get(last instanceof Integer ? Any.ELEMENT : Any.KEY), segments, left - 1, found);
      }
      Node deeper = node.to.get(Any.DEPTH);
      for (int further = deeper == null ? -1 : left; further >= 0; further -= 1) collect(deeper, segments, further, found);
    }
  }

  /** A JSON Pointer as a URI fragment (RFC 6901 section 6). */
  static String pointer(List<?> segments) {
    StringBuilder pointer = new StringBuilder("#");
    plain(segments).codePoints().forEach(point -> pointer.append(escaped(point)));
    return pointer.toString();
  }

  /** A JSON Pointer (RFC 6901). */
  static String plain(List<?> segments) {
    StringBuilder pointer = new StringBuilder();
    for (Object segment : segments) pointer.append('/').append(String.valueOf(segment).replace("~", "~0").replace("/", "~1"));
    return pointer.toString();
  }

  private static String escaped(int point) {
    String one = Character.toString(point);
    boolean kept = point < 128 && (Character.isLetterOrDigit(point) || "-._~!'()*@:$&+,;=/".contains(one));
    return kept ? one : URLEncoder.encode(one, StandardCharsets.UTF_8).replace("+", "%20");
  }
}
