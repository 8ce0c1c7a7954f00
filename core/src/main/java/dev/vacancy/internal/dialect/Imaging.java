package dev.vacancy.internal.dialect;

import dev.vacancy.catalog.Column;
import dev.vacancy.internal.catalog.ColumnType;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * How a database takes and gives back the image of a record: all of its values as JSON (RFC 8259), from which the very same
 * record can be made again.
 *
 * @since 0.1
 */
public interface Imaging extends Comparing {
    /**
     * Tells whether the database makes images and their digests by itself. Where it doesn't, they are made here: in a database
     * that runs in this process they travel nowhere.
     *
     * @return true if {@link #imageOf} and {@link #digestOf} can be asked
     */
    default boolean makesImages() {
        return false;
    }

    /**
     * Tells whether any column takes a value of any type and length, whatever its own is called.
     *
     * @return false where a value has to fit
     */
    default boolean holdsAnything() {
        return false;
    }

    /**
     * Says a row as a JSON object of texts.
     *
     * @param columns the columns that are its members
     * @param alias what their table is called
     * @return an expression of text
     */
    default Fragment imageOf(List<Column> columns, String alias) {
        throw new UnsupportedOperationException("images are made here");
    }

    /**
     * Says the digest of bytes, SHA-256 (FIPS 180-4).
     *
     * @param bytes an expression of bytes
     * @return an expression of 32 bytes
     */
    default String digestOf(String bytes) {
        throw new UnsupportedOperationException("digests are made here");
    }

    /**
     * Says the bytes of a text in UTF-8.
     *
     * @param text an expression of text
     * @return an expression of bytes
     */
    default String bytesOf(String text) {
        throw new UnsupportedOperationException("digests are made here");
    }

    /**
     * Puts bytes one behind the other.
     *
     * @param bytes expressions, none of them null
     * @return an expression of bytes
     */
    default String joinedBytes(List<String> bytes) {
        return joined(bytes);
    }

    /**
     * Returns a question mark for bytes.
     *
     * @return an expression of bytes
     */
    default String boundBytes() {
        return "?";
    }

    /**
     * Returns the type of columns of ours for a few bytes.
     *
     * @return words of SQL; they have room for 32
     */
    default String bytesType() {
        return "varbinary(32)";
    }

    /**
     * Returns the type of columns of ours for keys of records as text, however long they are.
     *
     * @return words of SQL, of a type that can be compared
     */
    default String keyTextType() {
        return "text";
    }

    /**
     * Makes an index by which records are found by table and key, whole keys and long ones.
     *
     * @param index its name
     * @param table the table, qualified as need be
     * @param first the column of names
     * @param second the column of keys
     * @return a statement
     */
    default String keyIndex(String index, String table, String first, String second) {
        return "create index " + index + " on " + table + " (" + first + ", " + second + ")";
    }

    /**
     * Returns what stands before an insertion of images so that none is cut or left out silently.
     *
     * @return words of SQL, perhaps none
     */
    default String beforeRecording() {
        return "";
    }

    /**
     * Puts texts one behind the other.
     *
     * @param texts expressions, none of them null
     * @return an expression of text
     */
    default String joined(List<String> texts) {
        return String.join(" || ", texts);
    }

    /**
     * Puts texts and numbers one behind the other.
     *
     * @param parts expressions, none of them null
     * @return an expression of text
     */
    default String concatenated(List<String> parts) {
        return "concat(" + String.join(", ", parts) + ")";
    }

    /**
     * Returns what ends a query so that none of its values is worked out once for each time that it is used.
     *
     * @return words of SQL, perhaps none
     */
    default String evaluatedOnce() {
        return "";
    }

    /**
     * Says a single character, one that could mean something in a literal.
     *
     * @param character an ASCII character
     * @return an expression of text
     */
    default String character(char character) {
        return "chr(" + (int) character + ")";
    }

    /**
     * Deletes records in a way that their old values can be read.
     *
     * @param deletion the deletion, of a table called by an alias of ours
     * @param alias that alias
     * @param name what the deleted rows are called
     * @return the beginning of a statement that reads them; empty where the database can't do that
     */
    default Optional<Fragment> deletedAs(Fragment deletion, String alias, String name) {
        return Optional.empty();
    }

    /**
     * Makes rows of images again, to stand behind the columns of an insertion.
     *
     * @param types the columns' types
     * @param images what stands in the images, a list of values for each row; null for null
     * @return a list of values, or a query of such rows
     */
    default Fragment rowsOf(List<ColumnType> types, List<List<Object>> images) {
        List<String> rows = new ArrayList<>();
        List<Binding> bindings = new ArrayList<>();
        for (List<Object> image : images) {
            List<String> values = new ArrayList<>();
            for (int i = 0; i < types.size(); i++) {
                if (image.get(i) == null) {
                    values.add("null");
                } else {
                    Fragment value = codec(types.get(i)).fromImage(image.get(i));
                    values.add(value.sql());
                    bindings.addAll(value.bindings());
                }
            }
            rows.add("(" + String.join(", ", values) + ")");
        }
        return new Fragment("values " + String.join(", ", rows), bindings);
    }

    /**
     * Says how the database makes values of columns again from images that stand in a column of text.
     *
     * @param columns the columns, each a member of every image
     * @param content the column of images, qualified
     * @return where the values come from; empty where images are read here
     */
    default Optional<ImageSource> readingImages(List<Column> columns, String content) {
        return Optional.empty();
    }

    /**
     * Says which records have one of some images in some of their columns.
     *
     * @param columns the columns, qualified
     * @param types their types
     * @param images what stands in the images, a list of values for each record, none of them null
     * @return a condition
     */
    default Fragment pictured(List<String> columns, List<ColumnType> types, List<List<Object>> images) {
        // By the first column a database finds the few that it has to look at; not each one finds them by the rows.
        List<Fragment> firsts = images.stream()
                .map(image -> image.get(0))
                .distinct()
                .map(value -> codec(types.get(0)).fromImage(value))
                .toList();
        Fragment first = new Fragment(
                columns.get(0) + " in (" + firsts.stream().map(Fragment::sql).collect(Collectors.joining(", ")) + ")",
                firsts.stream().flatMap(value -> value.bindings().stream()).toList());
        if (columns.size() == 1) {
            return first;
        }
        List<Fragment> rows = new ArrayList<>();
        for (List<Object> image : images) {
            List<Fragment> parts = new ArrayList<>();
            for (int i = 0; i < columns.size(); i++) {
                parts.add(codec(types.get(i)).fromImage(image.get(i)).between(columns.get(i) + " = ", ""));
            }
            rows.add(Fragment.join(" and ", parts));
        }
        return Fragment.allOf(List.of(first, Fragment.joinAll(" or ", rows)));
    }

    /**
     * Tells how many records are best found by their images at a time.
     *
     * @return 1 or more
     */
    default int picturedAtOnce() {
        return 1_000;
    }

    /**
     * Returns what stands between the columns and the values of an insertion that gives identity columns their old values.
     *
     * @return words of SQL with blanks around them
     */
    default String overridingIdentity() {
        return " ";
    }

    /**
     * Returns what stands before an insertion so that a zero stays one.
     *
     * @return words of SQL, perhaps none
     */
    default String beforeInsertion() {
        return "";
    }

    /**
     * Returns the type of text of any length.
     *
     * @return words of SQL
     */
    default String longText() {
        return "text";
    }

    /**
     * Returns what a table of ours needs to hold any text, and to tell each from all others.
     *
     * @return words of SQL that end its definition, perhaps none
     */
    default String tableOptions() {
        return "";
    }
}
