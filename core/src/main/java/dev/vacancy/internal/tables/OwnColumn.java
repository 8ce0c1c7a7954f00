package dev.vacancy.internal.tables;

import dev.vacancy.internal.dialect.Dialect;
import java.util.function.Function;

/**
 * A column of a table of ours.
 *
 * @param name its name, which every database takes without quotes
 * @param type its type in the words of a database
 * @param characters the most characters that it holds; 0 where it holds no text
 * @param required whether it always has a value
 * @since 0.1
 */
public record OwnColumn(String name, Function<Dialect, String> type, int characters, boolean required) {
    /** What is more than any text of ours, and less than what a database's largest type has room for. */
    private static final int LONG = 1_000_000;

    /** What an index can be on is shorter, in some databases. */
    private static final int LONG_KEY = 60_000;

    /**
     * Defines a column of text that no value is missing from.
     *
     * @param name its name
     * @param characters the most characters
     * @return the column
     */
    public static OwnColumn text(String name, int characters) {
        return new OwnColumn(name, dialect -> "varchar(" + characters + ")", characters, true);
    }

    /**
     * Defines a column of text of any length.
     *
     * @param name its name
     * @return the column
     */
    public static OwnColumn longText(String name) {
        return new OwnColumn(name, Dialect::longText, LONG, true);
    }

    /**
     * Defines a column for keys of records as text, however long they are.
     *
     * @param name its name
     * @return the column
     */
    public static OwnColumn key(String name) {
        return new OwnColumn(name, Dialect::keyTextType, LONG_KEY, true);
    }

    /**
     * Defines a column of another type.
     *
     * @param name its name
     * @param type words that every database knows
     * @return the column
     */
    public static OwnColumn of(String name, String type) {
        return new OwnColumn(name, dialect -> type, 0, true);
    }

    /**
     * Defines a column of a type that each database has its own words for.
     *
     * @param name its name
     * @param type those words
     * @return the column
     */
    public static OwnColumn of(String name, Function<Dialect, String> type) {
        return new OwnColumn(name, type, 0, true);
    }

    /** {@return the same column, which may have no value} */
    public OwnColumn optional() {
        return new OwnColumn(name, type, characters, false);
    }

    /** What defines it where the table is made, or it is added. */
    String definition(Dialect dialect) {
        String words = type.apply(dialect);
        // Without a word about it, some versions of some databases give a moment a default of their own.
        return name + " " + words + (required ? " not null" : words.startsWith("timestamp") ? " null" : "");
    }
}
