package dev.vacancy.internal.dialect;

import java.util.Locale;
import java.util.Optional;
import java.util.UUID;

/**
 * A column or a table that retires, by its names as the database stores them.
 *
 * @param schema its schema
 * @param table the table, or that of the column
 * @param column the column; empty if the whole table retires
 * @param aside what it is called while it is set aside
 * @since 0.1
 */
public record Retiree(String schema, String table, Optional<String> column, String aside) {
    private static final String PREFIX = "vacancy_aside_";
    private static final int LONGEST_NAME = 40;

    /**
     * Makes a name for what is set aside, which every database takes and people recognise.
     *
     * @param name its own name
     * @param id the number of the retirement
     * @return such as {@code vacancy_aside_wood_1f0c9a2b}
     */
    public static String nameAside(String name, UUID id) {
        String plain = name.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9_]", "_");
        return PREFIX + plain.substring(0, Math.min(plain.length(), LONGEST_NAME)) + "_"
                + id.toString().substring(0, 8);
    }

    /**
     * Tells whether something is set aside.
     *
     * @param name its name
     * @return true if it has a name of ours for that
     */
    public static boolean isAside(String name) {
        return name.startsWith(PREFIX);
    }

    /**
     * Returns where its records are while it is set aside.
     *
     * @return the name of a table
     */
    public String tableAside() {
        return column.isPresent() ? table : aside;
    }
}
