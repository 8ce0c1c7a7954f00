package dev.vacancy.internal.dialect;

import dev.vacancy.internal.catalog.ColumnType;
import java.nio.ByteBuffer;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;

/**
 * How a database's column of one type is read exactly, sent, compared, ordered, written into the trail and made again. A dialect chooses one
 * for each type that it meets; whatever depends on a type stands here and nowhere else.
 *
 * @since 0.1
 */
public interface Codec {
    /** {@return the type that it is of} */
    ColumnType type();

    /**
     * Binds a single value to be compared with what {@link #comparand} makes of a column. The value is never rounded or cut on the way.
     *
     * @param value a value of the type
     * @return a question mark, with whatever the database needs around it to take the value for that type
     */
    Fragment value(Object value);

    /**
     * Binds a single value to be written to a column.
     *
     * @param value a value of the type
     * @return a question mark, with whatever the database needs around it to take the value for that type
     */
    default Fragment stored(Object value) {
        return value(value);
    }

    /**
     * Says a column the way {@link #value} compares it.
     *
     * @param column the column, qualified
     * @return the column, in a form in which what means the same is the same
     */
    default String comparand(String column) {
        return column;
    }

    /**
     * Compares a column with a value.
     *
     * @param column the column, qualified
     * @param comparison one of SQL's comparison operators
     * @param value a value of the type
     * @return a condition
     */
    default Fragment compared(String column, String comparison, Object value) {
        return value(value).between(comparand(column) + " " + comparison + " ", "");
    }

    /**
     * Says that a column is like a pattern in which no character escapes another.
     *
     * @param column the column, quoted
     * @param pattern the pattern
     * @return a condition
     */
    default Fragment like(String column, String pattern) {
        // Databases differ in what escapes unless told; this names a character and keeps it from meaning anything.
        return Fragment.of(column + " like ? escape '!'", Binding.of(pattern.replace("!", "!!")));
    }

    /**
     * Tells whether different texts can count as the same in a column: in another case, say, or with other accents.
     *
     * @return true if that is known of its collation
     */
    default boolean isTextFolded() {
        return false;
    }

    /**
     * Says a column as text.
     *
     * @param column the column, qualified
     * @return an expression
     */
    String text(String column);

    /**
     * Says a column of one end of a link so that the database compares it with the other end's.
     *
     * @param column the column, qualified
     * @param other the type of the column at the other end
     * @return the column; as text where only the other is text
     */
    default String comparable(String column, ColumnType other) {
        return other.isText() && !type().isText() && !type().isEnumeration() ? text(column) : column;
    }

    /**
     * Says a child's column so that it is compared the way a foreign key compares it: by the collation of its parent's.
     *
     * @param column the column, qualified
     * @param parent the type of the parent's column
     * @return the column, with the parent's collation where it has another one
     */
    default String collatedLike(String column, ColumnType parent) {
        return column;
    }

    /**
     * Says what to read of a column, so that the value that comes back is the very one that is stored.
     *
     * @param column the column, quoted
     * @return the column, or its text in the database's own form where Java has no type that holds each of its values
     */
    default String exact(String column) {
        return column;
    }

    /**
     * Reads what {@link #exact} asked for.
     *
     * @param row a result on a row
     * @param index the position, from 1
     * @return a value that finds the record again when it is sent back; null for null
     * @throws SQLException when the driver can't read it
     */
    default Object readExact(ResultSet row, int index) throws SQLException {
        return read(row, index);
    }

    /**
     * Says a column in a form that has a lowest and a highest value.
     *
     * @param column the column, qualified
     * @return what {@link #exact} reads, or its text where the database puts values of that type in no order
     */
    default String ordered(String column) {
        return exact(column);
    }

    /**
     * Says what to read of a column as the application would want it.
     *
     * @param column the column, quoted
     * @return the column; something else where what a driver makes of it depends on a session
     */
    default String shown(String column) {
        return column;
    }

    /**
     * Reads what {@link #shown} asked for as the application would want it, detached from the result: {@code java.time} for dates and times,
     * text for character large objects, a read-only {@link ByteBuffer} for binary, a list for arrays, text for
     * types that only the database knows.
     *
     * @param row a result on a row
     * @param index the column's position, from 1
     * @return the value, or null
     * @throws SQLException when the driver can't read it
     */
    default Object read(ResultSet row, int index) throws SQLException {
        return Values.detached(row, index, type());
    }

    /**
     * Tells whether a value may be too large for the text that an image is, so that there would be none.
     *
     * @return false where every value has room
     */
    default boolean mayBeTooLarge() {
        return false;
    }

    /**
     * Tells whether a value can be made again from what an image has of it.
     *
     * @return false where the database writes it in a way that it doesn't read
     */
    default boolean comesBack() {
        return true;
    }

    /**
     * Says a value as the text that stands for it and no other in an image.
     *
     * @param column the column, qualified
     * @return an expression, null for null
     */
    String imageText(String column);

    /**
     * Reads a value for an image that is made here.
     *
     * @param row a result on a row that has {@link #imageText}
     * @param index the position, from 1
     * @return a text, a number, a list or a {@link ByteBuffer}; null for null
     * @throws SQLException when the driver can't read it
     */
    default Object readImage(ResultSet row, int index) throws SQLException {
        return row.getString(index);
    }

    /**
     * Says what {@link #imageText} is, in this session, of the values that some images have: another session may have written them otherwise.
     *
     * @param images what stands in the images
     * @return a query whose rows have what stands in an image, and what stands in one that is made now; empty where each session
     *     writes the same
     */
    default Optional<Fragment> respelled(List<String> images) {
        return Optional.empty();
    }

    /**
     * Binds a value of an image to be written to its column again.
     *
     * @param value what stands in the image, never null
     * @return a question mark, with what the database needs around it
     */
    Fragment fromImage(Object value);

    /**
     * Says a value of a key as the text by which its record is found in the trail: bytes as lower-case hexadecimal digits, all
     * else as in an image.
     *
     * @param column the column, qualified
     * @return an expression of text
     */
    default String keyText(String column) {
        return imageText(column);
    }

    /**
     * Returns the text that {@link #keyText} gives for a value.
     *
     * @param value what stands in an image, or null
     * @return the text
     */
    default String keyOf(Object value) {
        return value instanceof ByteBuffer bytes ? Bytes.hex(bytes) : String.valueOf(value);
    }
}
