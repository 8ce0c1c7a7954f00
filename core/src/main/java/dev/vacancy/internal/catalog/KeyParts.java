package dev.vacancy.internal.catalog;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/**
 * Several parts of a key in one text: with commas between them, and a backslash before each comma or backslash that belongs to a part,
 * so that no two lists have the same text.
 *
 * @since 0.1
 */
public final class KeyParts {
    private static final char COMMA = ',';
    private static final char ESCAPE = '\\';

    private KeyParts() {}

    /**
     * Joins parts.
     *
     * @param parts the parts
     * @return one text
     */
    public static String join(List<String> parts) {
        return parts.stream()
                .map(part -> part.replace("\\", "\\\\").replace(",", "\\,"))
                .collect(Collectors.joining(","));
    }

    /**
     * Takes apart what {@link #join} gave, or a person typed.
     *
     * @param text the text
     * @return the parts, at least one
     */
    public static List<String> split(String text) {
        List<String> parts = new ArrayList<>();
        StringBuilder part = new StringBuilder();
        boolean literally = false;
        for (int i = 0; i < text.length(); i++) {
            char next = text.charAt(i);
            if (!literally && next == COMMA) {
                parts.add(part.toString());
                part.setLength(0);
            } else if (literally || next != ESCAPE) {
                part.append(next);
            }
            literally = !literally && next == ESCAPE;
        }
        parts.add(part.toString());
        return parts;
    }
}
