package dev.vacancy.internal.trail;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import java.util.Collection;
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

    private final List<Part> parts;

    /** One of the texts, with what finds it and what takes its place. */
    private record Part(String text, Pattern pattern, String mask) {
        static Part of(String given) {
            int length = length(given);
            if (length < SHORTEST) {
                throw new InvalidRequestException(
                        FailureCode.USAGE,
                        "'" + (given == null ? "" : given) + "' is too short: it would be found in words of any kind.",
                        "Give a text of " + SHORTEST + " characters or more, such as a whole name or address.");
            }
            String text = given.strip();
            return new Part(
                    text,
                    Pattern.compile(
                            spellings(text).map(Pattern::quote).collect(Collectors.joining("|")),
                            Pattern.CASE_INSENSITIVE | Pattern.UNICODE_CASE),
                    "*".repeat(length));
        }
    }

    /**
     * Looks for nothing yet.
     *
     * @param text the text
     * @throws InvalidRequestException when it is too short to be of one person
     */
    public SoughtText(String text) {
        this.parts = List.of(Part.of(text));
    }

    private SoughtText(List<Part> parts) {
        this.parts = List.copyOf(parts);
    }

    /**
     * Looks for several texts. One that has another in it is masked as a whole.
     *
     * @param texts the texts, at least one, each long enough
     * @return any of them
     */
    public static SoughtText ofAny(Collection<String> texts) {
        return new SoughtText(texts.stream()
                .distinct()
                .sorted(Comparator.comparing(String::length).reversed().thenComparing(text -> text))
                .map(Part::of)
                .toList());
    }

    /**
     * Tells whether a text is long enough to be looked for.
     *
     * @param text a text, or null
     * @return false if it would be found in words of any kind
     */
    public static boolean isLongEnough(String text) {
        return length(text) >= SHORTEST;
    }

    private static int length(String text) {
        return text == null ? 0 : text.strip().codePointCount(0, text.strip().length());
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
        return other != null
                && parts.stream().anyMatch(part -> part.pattern().matcher(other).find());
    }

    /**
     * Puts asterisks in its place, as many as it has characters, so that what was long enough for it is for them.
     *
     * @param other a text
     * @return the same without it
     */
    public String maskedIn(String other) {
        String left = other;
        for (Part part : parts) {
            left = part.pattern().matcher(left).replaceAll(part.mask());
        }
        return left;
    }

    /** {@return the text without blanks around it, or several with commas between them} */
    @Override
    public String toString() {
        return parts.stream().map(Part::text).collect(Collectors.joining(", "));
    }
}
