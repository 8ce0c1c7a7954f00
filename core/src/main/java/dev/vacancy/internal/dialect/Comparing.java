package dev.vacancy.internal.dialect;

import dev.vacancy.catalog.Column;
import dev.vacancy.internal.catalog.ColumnType;
import java.util.Collections;
import java.util.List;

/**
 * How values reach a database and come back, and how it compares them.
 *
 * @since 0.1
 */
public interface Comparing {
    /**
     * Returns how values of a type are read, sent, compared and kept.
     *
     * @param type the type of a column
     * @return its codec, the same for the same type
     */
    Codec codec(ColumnType type);

    /**
     * Returns how values of a column are read, sent, compared and kept.
     *
     * @param column the column
     * @return its codec
     */
    default Codec codec(Column column) {
        return codec(ColumnType.of(column));
    }

    /**
     * Says that some columns hold one of the keys of a set. It is true or not true, and may be unknown for nulls.
     *
     * @param columns the columns, quoted
     * @param keys the keys, with as many values each as there are columns
     * @return a condition with one bound value for each column
     */
    Fragment among(List<String> columns, KeySet keys);

    /**
     * Says that a column has one of several values.
     *
     * @param column the column, qualified
     * @param type its type
     * @param values the values, at least one
     * @return a condition
     */
    default Fragment oneOf(String column, ColumnType type, List<Object> values) {
        return among(
                List.of(column),
                new KeySet(List.of(type), values.stream().map(List::of).toList()));
    }

    /**
     * Says that a column has another value than some.
     *
     * @param column the column, qualified
     * @param type its type
     * @param values the values, at least one
     * @return a condition; not true of null
     */
    default Fragment noneOf(String column, ColumnType type, List<Object> values) {
        return oneOf(column, type, values).between("not (", ")");
    }

    /**
     * Says that some columns are among those that a query reads. It is true or not true, and may be unknown for nulls.
     *
     * @param columns the columns, as they are to be compared
     * @param query the beginning of the query, up to its columns
     * @param read the columns that it reads, one for each
     * @param from the rest of the query
     * @return a condition
     */
    default Fragment among(List<String> columns, String query, List<String> read, Fragment from) {
        String names = columns.size() == 1 ? columns.get(0) : "(" + String.join(", ", columns) + ")";
        return from.between(names + " in (" + query + String.join(", ", read), ")");
    }

    /**
     * Says that some columns are among those of many records of another table. It is true or not true, and may be unknown for
     * nulls.
     *
     * @param columns the columns, as they are to be compared
     * @param table the other table with its alias
     * @param read its columns, as they are to be compared, one for each
     * @param where which of its records
     * @return a condition
     */
    default Fragment amongMany(List<String> columns, String table, List<String> read, Fragment where) {
        return among(columns, "select ", read, where.between(" from " + table + " where ", ""));
    }

    /**
     * Says what a column is set to by default.
     *
     * @param declared the default as the schema declares it, or null without one
     * @return what stands behind the equals sign of an update
     */
    default Fragment defaultOf(String declared) {
        return Fragment.of("default");
    }

    /**
     * Finds a text among several.
     *
     * @param column the column of text, qualified
     * @param texts the texts, at least one
     * @return the condition
     */
    default Fragment anyOf(String column, List<String> texts) {
        return new Fragment(
                column + " in (" + String.join(", ", Collections.nCopies(texts.size(), "?")) + ")",
                texts.stream().map(Binding::of).toList());
    }
}
