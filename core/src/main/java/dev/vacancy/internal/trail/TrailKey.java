package dev.vacancy.internal.trail;

import dev.vacancy.catalog.Column;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.catalog.KeyParts;
import dev.vacancy.internal.dialect.Dialect;
import java.util.ArrayList;
import java.util.List;

/**
 * The key of a record as one text, by which the trail finds it: its value, or its values as {@link KeyParts} joins them.
 *
 * @since 0.1
 */
public final class TrailKey {
    private static final char ESCAPE = '\\';

    private TrailKey() {}

    /**
     * Writes a key.
     *
     * @param texts its values, as {@link Dialect#keyOf} gives them
     * @return the key
     */
    public static String of(List<String> texts) {
        return texts.size() == 1 ? texts.get(0) : KeyParts.join(texts);
    }

    /**
     * Reads a key.
     *
     * @param key what {@link #of} gave, or a person typed
     * @param columns how many columns the table's key has
     * @return its values, not necessarily as many
     */
    public static List<String> texts(String key, int columns) {
        return columns == 1 ? List.of(key) : KeyParts.split(key);
    }

    /** Says the same in the database's own words. */
    static String expression(List<Column> columns, String alias, Dialect dialect) {
        List<String> parts = new ArrayList<>();
        for (Column column : columns) {
            String text = dialect.codec(column).keyText(dialect.name(alias, column));
            boolean plain = columns.size() == 1 || ColumnType.of(column).isInteger();
            if (!parts.isEmpty()) {
                parts.add("','");
            }
            parts.add(plain ? text : escaped(text, dialect));
        }
        return dialect.joined(parts);
    }

    /** A backslash in a literal means different things to databases, and to the same one in another mode. */
    private static String escaped(String text, Dialect dialect) {
        String escape = dialect.character(ESCAPE);
        String doubled = dialect.joined(List.of(escape, escape));
        return "replace(replace(" + text + ", " + escape + ", " + doubled + "), ',', "
                + dialect.joined(List.of(escape, "','")) + ")";
    }
}
