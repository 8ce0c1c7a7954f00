package dev.vacancy.cli.terminal;

import java.math.BigDecimal;
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
        String text = value instanceof BigDecimal number ? number.toPlainString() : String.valueOf(value);
        return value == null ? "-" : COMMANDS.matcher(text).replaceAll(" ");
    }

    /** Several lines in the tool's own colours. */
    public static String painted(String lines) {
        return COMMANDS_BUT_PAINT
                .matcher(lines)
                .replaceAll(found -> found.group(1) == null ? " " : Matcher.quoteReplacement(found.group(1)));
    }

    /** Values by their names, each in a line of its own. */
    public static String of(Map<?, ?> values, String indent) {
        int width = values.keySet().stream()
                .map(String::valueOf)
                .mapToInt(String::length)
                .max()
                .orElse(1);
        return values.entrySet().stream()
                .map(value -> String.format(
                        Locale.ROOT, "%s%-" + width + "s  %s", indent, value.getKey(), of(value.getValue())))
                .collect(Collectors.joining(System.lineSeparator()));
    }
}
