package dev.vacancy;

import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * One record, shown so that a person recognises it.
 *
 * @param key its key, or empty in a table without one
 * @param label the text people know it by, or empty
 * @since 0.1
 */
public record Sample(Optional<Key> key, Optional<String> label) {
    private static final int LONGEST_LABEL = 24;

    private static final Pattern COMMANDS = Pattern.compile("[\\p{Cc}\\u202a-\\u202e\\u2066-\\u2069]+");

    /**
     * Shows a record that is known as a whole.
     *
     * @param record the record
     * @return its key, and its label unless that is the same
     */
    public static Sample of(RecordContent record) {
        return new Sample(
                Optional.of(record.key()),
                record.label().filter(label -> !label.equals(record.key().text())));
    }

    /**
     * Returns key and label.
     *
     * @return such as {@code 12 'Bramble Three'}, or {@code (33, 2)} for a composite key; a long label is cut
     */
    @Override
    public String toString() {
        String quoted = label.map(text -> "'" + shortened(text) + "'").orElse("");
        return key.map(known -> (plain(shortened(known)) + " " + quoted).strip())
                .orElse(quoted);
    }

    private static String shortened(Key key) {
        return key.values().size() == 1
                ? key.text()
                : key.values().stream().map(String::valueOf).collect(Collectors.joining(", ", "(", ")"));
    }

    private static String shortened(String text) {
        String line = plain(text);
        return line.codePointCount(0, line.length()) <= LONGEST_LABEL
                ? line
                : line.substring(0, line.offsetByCodePoints(0, LONGEST_LABEL - 1)) + "…";
    }

    /**
     * Returns a text without what moves a cursor, sets a colour, or turns round what stands beside it.
     *
     * @param text a text from a record
     * @return the text in one line, with blanks in their place
     */
    public static String plain(String text) {
        return COMMANDS.matcher(text).replaceAll(" ");
    }
}
