package dev.vacancy.internal.dialect;

import dev.vacancy.catalog.ColumnType;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Collections;
import java.util.List;

/**
 * How values reach a database and come back, and how it compares them.
 *
 * @since 0.1
 */
public interface Comparing {
    /**
     * Says that some columns hold one of the keys of a set. It is true or not true, and may be unknown for nulls.
     *
     * @param columns the columns, quoted
     * @param keys the keys, with as many values each as there are columns
     * @return a condition with one bound value for each column
     */
    Fragment among(List<String> columns, KeySet keys);

    /**
     * Binds a single value to be compared with what {@link #comparand} makes of a column. The value is never rounded or cut on the way.
     *
     * @param type the column's type
     * @param value a value of that type
     * @return a question mark, with whatever the database needs around it to take the value for that type
     */
    Fragment value(ColumnType type, Object value);

    /**
     * Binds a single value to be written to a column.
     *
     * @param type the column's type
     * @param value a value of that type
     * @return a question mark, with whatever the database needs around it to take the value for that type
     */
    default Fragment stored(ColumnType type, Object value) {
        return value(type, value);
    }

    /**
     * Says a column the way {@link #value} compares it.
     *
     * @param type the column's type
     * @param column the column, qualified
     * @return the column, in a form in which what means the same is the same
     */
    default String comparand(ColumnType type, String column) {
        return column;
    }

    /**
     * Compares a column with a value.
     *
     * @param column the column, qualified
     * @param type its type
     * @param comparison one of SQL's comparison operators
     * @param value a value of that type
     * @return a condition
     */
    default Fragment compared(String column, ColumnType type, String comparison, Object value) {
        return value(type, value).between(comparand(type, column) + " " + comparison + " ", "");
    }

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
     * Says what to read of a column, so that the value that comes back is the very one that is stored.
     *
     * @param type the column's type
     * @param column the column, quoted
     * @return the column, or its text in the database's own form where Java has no type that holds each of its values
     */
    default String exact(ColumnType type, String column) {
        return column;
    }

    /**
     * Reads what {@link #exact} asked for.
     *
     * @param row a result on a row
     * @param index the position, from 1
     * @param type the column's type
     * @return a value that finds the record again when it is sent back; null for null
     * @throws SQLException when the driver can't read it
     */
    default Object readExact(ResultSet row, int index, ColumnType type) throws SQLException {
        return read(row, index, type);
    }

    /**
     * Says a column in a form that has a lowest and a highest value.
     *
     * @param type the column's type
     * @param column the column, qualified
     * @return what {@link #exact} reads, or its text where the database puts values of that type in no order
     */
    default String ordered(ColumnType type, String column) {
        return exact(type, column);
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
     * Says that a column is like a pattern in which no character escapes another.
     *
     * @param column the column, quoted
     * @param type its type
     * @param pattern the pattern
     * @return a condition
     */
    default Fragment like(String column, ColumnType type, String pattern) {
        // Databases differ in what escapes unless told; this names a character and keeps it from meaning anything.
        return Fragment.of(column + " like ? escape '!'", Binding.of(pattern.replace("!", "!!")));
    }

    /**
     * Tells whether different texts can count as the same in a column: in another case, say, or with other accents.
     *
     * @param type the column's type
     * @return true if that is known of its collation
     */
    boolean isTextFolded(ColumnType type);

    /**
     * Reads a value as the application would want it, detached from the result: {@code java.time} for dates and times,
     * text for character large objects, a read-only {@link java.nio.ByteBuffer} for binary, a list for arrays, text for
     * types that only the database knows.
     *
     * @param row a result on a row
     * @param index the column's position, from 1
     * @param type the column's type
     * @return the value, or null
     * @throws SQLException when the driver can't read it
     */
    default Object read(ResultSet row, int index, ColumnType type) throws SQLException {
        return Values.detached(row, index, type);
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
