package dev.vacancy.cli.terminal;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/** Text from records, which on a terminal moves no cursor, sets no colour and turns round nothing that stands beside it. */
public final class PlainText {
    private static final Pattern COMMANDS = Pattern.compile("[\\p{Cc}\\u202a-\\u202e\\u2066-\\u2069]");

    private static final Pattern COMMANDS_BUT_PAINT =
            Pattern.compile("(" + Paint.RENDITION + "|\\R)|" + COMMANDS.pattern());

    private PlainText() {}

    /** A value in one line. */
    public static String of(Object value) {
        String text = value instanceof BigDecimal number
                ? number.toPlainString()
                : value instanceof Map<?, ?> fields ? inOneLine(fields) : String.valueOf(value);
        return value == null ? "-" : COMMANDS.matcher(text).replaceAll(" ");
    }

    /** Several lines in the tool's own colours. */
    public static String painted(String lines) {
        return COMMANDS_BUT_PAINT
                .matcher(lines)
                .replaceAll(found -> found.group(1) == null ? " " : Matcher.quoteReplacement(found.group(1)));
    }

    private static String inOneLine(Map<?, ?> fields) {
        return fields.entrySet().stream()
                .map(field -> field.getKey() + " " + of(field.getValue()))
                .collect(Collectors.joining(", "));
    }

    /** Values by their names, each in a line of its own; of a list of what has names itself, each element in one. */
    public static String of(Map<?, ?> values, String indent) {
        return of(values, indent, Integer.MAX_VALUE);
    }

    /** The same, with no more than some elements of each such list. */
    public static String of(Map<?, ?> values, String indent, int most) {
        int width = values.keySet().stream()
                .map(String::valueOf)
                .mapToInt(String::length)
                .max()
                .orElse(1);
        return values.entrySet().stream()
                .map(value -> String.format(
                        Locale.ROOT,
                        "%s%-" + width + "s  %s",
                        indent,
                        value.getKey(),
                        String.join(
                                System.lineSeparator() + " ".repeat(indent.length() + width + 2),
                                lines(value.getValue(), most))))
                .collect(Collectors.joining(System.lineSeparator()));
    }

    private static List<String> lines(Object value, int most) {
        if (!(value instanceof List<?> elements) || !elements.stream().anyMatch(Map.class::isInstance)) {
            return List.of(of(value));
        }
        List<String> lines =
                new ArrayList<>(elements.stream().limit(most).map(PlainText::of).toList());
        if (elements.size() > most) {
            lines.add("… " + (elements.size() - most) + " more");
        }
        return lines;
    }
}
