import java.io.FileInputStream;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.util.Properties;
import java.util.TreeSet;

/** Reads a file of properties as Java does, and prints each key and text with everything but letters and digits of ASCII escaped. */
public class ReadProperties {
  static String escaped(String text) {
    StringBuilder out = new StringBuilder();
    for (char unit : text.toCharArray()) out.append(String.format("\\u%04x", (int) unit));
    return out.toString();
  }

  public static void main(String[] arguments) throws Exception {
    Properties read = new Properties();
    boolean latin = arguments[1].equals("latin");
    FileInputStream file = new FileInputStream(arguments[0]);
    if (latin) read.load(file);
    else read.load(new InputStreamReader(file, StandardCharsets.UTF_8));
    for (String key : new TreeSet<>(read.stringPropertyNames()))
      System.out.println("[\"" + escaped(key) + "\",\"" + escaped(read.getProperty(key)) + "\"]");
  }
}
