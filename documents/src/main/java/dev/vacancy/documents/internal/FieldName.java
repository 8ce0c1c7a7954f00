package dev.vacancy.documents.internal;

import java.util.List;
import java.util.Locale;

/**
 * The last name of a path, in letters and digits only.
 *
 * @param plain the name
 */
record FieldName(String plain) {
    private static final List<String> KEY_WORDS =
            List.of("", "id", "ids", "no", "nr", "number", "key", "code", "ref", "refs");

    static FieldName of(String path) {
        return new FieldName(plain(path.substring(path.lastIndexOf('.') + 1)));
    }

    private static String plain(String name) {
        return name.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]", "");
    }

    /** Whether it ends in the name of a collection, in the singular or plural, with or without a word for a key. */
    boolean isOf(String collection) {
        String one = singular(plain(collection));
        return !one.isEmpty()
                && KEY_WORDS.stream().anyMatch(word -> plain.endsWith(one + word) || plain.endsWith(one + "s" + word));
    }

    private static String singular(String name) {
        return name.endsWith("s") ? name.substring(0, name.length() - 1) : name;
    }
}
