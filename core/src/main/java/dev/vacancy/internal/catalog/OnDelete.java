package dev.vacancy.internal.catalog;

import java.sql.DatabaseMetaData;

/**
 * What the database itself does to a child when its parent is deleted: the referential action of a foreign key
 * (ISO/IEC 9075-2, section 11.8).
 *
 * @since 0.1
 */
public enum OnDelete {
    /** The child is deleted. */
    CASCADE,
    /** The child's foreign key is set to null. */
    SET_NULL,
    /** The child's foreign key is set to the column's default. */
    SET_DEFAULT,
    /** The deletion is refused. */
    RESTRICT,
    /** The deletion is refused, though perhaps only at the end of the statement or transaction. */
    NO_ACTION;

    /**
     * Returns the action as SQL writes it.
     *
     * @return such as {@code ON DELETE SET NULL}
     */
    public String sql() {
        return "ON DELETE " + name().replace('_', ' ');
    }

    /**
     * Returns the action that JDBC's metadata tells.
     *
     * @param deleteRule one of the constants of {@link DatabaseMetaData}
     * @return the action
     */
    public static OnDelete fromJdbc(int deleteRule) {
        return switch (deleteRule) {
            case DatabaseMetaData.importedKeyCascade -> CASCADE;
            case DatabaseMetaData.importedKeySetNull -> SET_NULL;
            case DatabaseMetaData.importedKeySetDefault -> SET_DEFAULT;
            case DatabaseMetaData.importedKeyRestrict -> RESTRICT;
            default -> NO_ACTION;
        };
    }
}
