package dev.vacancy.web;

import jakarta.servlet.http.HttpServletRequest;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/** What header fields say that are lists (RFC 9110, section 5.6.1), in one line or several. */
final class HeaderFields {
    /** A comma between elements, and not in a quoted string. */
    private static final Pattern COMMA = Pattern.compile(",(?=(?:[^\"]*\"[^\"]*\")*[^\"]*$)");

    private static final Pattern NOTHING = Pattern.compile("q\\s*=\\s*0(\\.0{0,3})?");

    private HeaderFields() {}

    private static Stream<String> elements(HttpServletRequest request, String name) {
        List<String> lines = Collections.list(request.getHeaders(name));
        return lines.stream().flatMap(COMMA::splitAsStream).map(String::strip).filter(element -> !element.isEmpty());
    }

    /**
     * Returns the value of a preference (RFC 7240, section 2): names in any case, of several of one name the first, parameters behind them passed
     * over.
     */
    static Optional<String> preference(HttpServletRequest request, String name) {
        return elements(request, "Prefer")
                .map(element -> element.split(";", 2)[0].split("=", 2))
                .filter(parts -> parts[0].strip().equalsIgnoreCase(name))
                .map(parts -> parts.length < 2 ? "" : parts[1].strip().replaceAll("^\"|\"$", ""))
                .findFirst();
    }

    /** Whether a type of content is accepted (RFC 9110, section 12.5.1); without the field everything is. */
    static boolean accepts(HttpServletRequest request, String type) {
        List<String> ranges = elements(request, "Accept").toList();
        return ranges.isEmpty() || ranges.stream().anyMatch(range -> covers(range, type));
    }

    private static boolean covers(String range, String type) {
        String[] parts = range.split(";");
        String wanted = parts[0].strip().toLowerCase(Locale.ROOT);
        boolean refused = Stream.of(parts)
                .skip(1)
                .map(String::strip)
                .anyMatch(parameter -> NOTHING.matcher(parameter).matches());
        return !refused
                && (wanted.equals("*/*")
                        || wanted.equals(type)
                        || wanted.equals(type.substring(0, type.indexOf('/')) + "/*"));
    }
}
