package dev.vacancy.internal.trail;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import java.util.Comparator;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * A text that is looked for, whatever its case, and to be masked.
 *
 * @since 0.1
 */
public final class SoughtText {
    /** A shorter one stands everywhere. */
    private static final int SHORTEST = 3;

    private final String text;
    private final Pattern pattern;
    private final String mask;

    /**
     * Looks for nothing yet.
     *
     * @param text the text
     * @throws InvalidRequestException when it is too short to be of one person
     */
    public SoughtText(String text) {
        int length =
                text == null ? 0 : text.strip().codePointCount(0, text.strip().length());
        if (length < SHORTEST) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "'" + (text == null ? "" : text) + "' is too short: it would be found in words of any kind.",
                    "Give a text of " + SHORTEST + " characters or more, such as a whole name or address.");
        }
        this.text = text.strip();
        this.pattern = Pattern.compile(
                spellings(this.text).map(Pattern::quote).collect(Collectors.joining("|")),
                Pattern.CASE_INSENSITIVE | Pattern.UNICODE_CASE);
        this.mask = "*".repeat(length);
    }

    /** Criteria have apostrophes twice, and a key of several columns has backslashes before its commas: the longest spelling comes first. */
    private static Stream<String> spellings(String text) {
        return Stream.of(text, text.replace("'", "''"))
                .flatMap(spelled -> Stream.of(spelled, inKey(spelled)))
                .distinct()
                .sorted(Comparator.comparing(String::length).reversed());
    }

    private static String inKey(String text) {
        String key = TrailKey.of(List.of(text, ""));
        return key.substring(0, key.length() - 1);
    }

    /**
     * Tells whether it stands in another one.
     *
     * @param other a text, or null
     * @return true if so
     */
    public boolean isIn(String other) {
        return other != null && pattern.matcher(other).find();
    }

    /**
     * Puts asterisks in its place, as many as it has characters, so that what was long enough for it is for them.
     *
     * @param other a text
     * @return the same without it
     */
    public String maskedIn(String other) {
        return pattern.matcher(other).replaceAll(mask);
    }

    /** {@return the text without blanks around it} */
    @Override
    public String toString() {
        return text;
    }
}
