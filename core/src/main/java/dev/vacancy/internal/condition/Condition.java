package dev.vacancy.internal.condition;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogColumn;
import dev.vacancy.internal.catalog.PackedRows;
import dev.vacancy.internal.request.Comparison;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * A condition on the records of one table, in terms of the catalog: it names columns that are there and holds values of
 * their types. Whoever asks a database for its records reads it by its kind ({@link ConditionVisitor}).
 *
 * @since 0.1
 */
public sealed interface Condition {
    /**
     * Picks the records whose columns hold one of the given keys. A null in a column picks nothing.
     *
     * @param columns the columns, at least one
     * @param keys the keys, each with one value for each column
     */
    record Among(List<Column> columns, List<List<Object>> keys) implements Condition {
        /** Keeps its own copies of the lists, but of one that is packed. */
        public Among {
            columns = List.copyOf(columns);
            keys = keys instanceof PackedRows ? keys : List.copyOf(keys);
        }

        @Override
        public <T> T accept(ConditionVisitor<T> visitor) {
            return visitor.visit(this);
        }
    }

    /**
     * Picks the records whose columns hold what images of records have there.
     *
     * @param columns the columns, at least one
     * @param images the values as the database's codecs take them from images, one for each column; at least one, none of them null
     */
    record Pictured(List<Column> columns, List<List<Object>> images) implements Condition {
        /** Keeps its own copies of the lists. */
        public Pictured {
            columns = List.copyOf(columns);
            images = List.copyOf(images);
        }

        @Override
        public <T> T accept(ConditionVisitor<T> visitor) {
            return visitor.visit(this);
        }
    }

    /**
     * Picks the children on a link whose foreign key holds one of the given references. A null in it picks nothing.
     *
     * @param link a link whose foreign keys are compared by value
     * @param references what the foreign keys may hold, each with one value for each column, of the parent's types
     */
    record Referring(Link link, List<List<Object>> references) implements Condition {
        /** Keeps its own copy of the list. */
        public Referring {
            references = List.copyOf(references);
        }

        @Override
        public <T> T accept(ConditionVisitor<T> visitor) {
            return visitor.visit(this);
        }

        // The two methods that a record has by itself are made at run time, and every start would wait for that.
        @Override
        public boolean equals(Object other) {
            return other instanceof Referring referring
                    && link.equals(referring.link)
                    && references.equals(referring.references);
        }

        @Override
        public int hashCode() {
            return 31 * link.hashCode() + references.hashCode();
        }
    }

    /**
     * Picks by comparing a column with a value. A null in the column picks nothing.
     *
     * @param column the column
     * @param comparison how
     * @param value a value of the column's type
     */
    record Compares(Column column, Comparison comparison, Object value) implements Condition {
        /** Whether a record can have this value at all, exactly. */
        boolean isPossible() {
            return CatalogColumn.of(column).holds(value);
        }

        @Override
        public <T> T accept(ConditionVisitor<T> visitor) {
            return visitor.visit(this);
        }
    }

    /**
     * Picks the records whose column holds what a value means, in whatever spelling.
     *
     * @param column the column
     * @param value a value of the column's type
     */
    record Means(Column column, Object value) implements Condition {
        @Override
        public <T> T accept(ConditionVisitor<T> visitor) {
            return visitor.visit(this);
        }
    }

    /**
     * Picks the records whose column has one of several values. A null in the column picks nothing.
     *
     * @param column the column
     * @param values values of the column's type, at least one
     */
    record OneOf(Column column, List<Object> values) implements Condition {
        /** Keeps its own copy of the list. */
        public OneOf {
            values = List.copyOf(values);
        }

        @Override
        public <T> T accept(ConditionVisitor<T> visitor) {
            return visitor.visit(this);
        }
    }

    /**
     * Picks by a pattern of SQL's LIKE: {@code %} for any text, {@code _} for any character.
     *
     * @param column the column
     * @param pattern the pattern; no character in it escapes another
     */
    record Like(Column column, String pattern) implements Condition {
        @Override
        public <T> T accept(ConditionVisitor<T> visitor) {
            return visitor.visit(this);
        }
    }

    /**
     * Picks the records whose column is null.
     *
     * @param column the column
     */
    record IsNull(Column column) implements Condition {
        @Override
        public <T> T accept(ConditionVisitor<T> visitor) {
            return visitor.visit(this);
        }
    }

    /**
     * Picks the records that have another one beside them, with the same values in some columns.
     *
     * @param table the table
     * @param key the columns that the two have in common
     * @param after the column in which the other one has a greater value, or empty for any other and the record itself
     * @param that what the other one meets, or empty
     */
    record Sibling(Table table, List<Column> key, Optional<Column> after, Optional<Condition> that)
            implements Condition {
        /** Keeps its own copy of the list. */
        public Sibling {
            key = List.copyOf(key);
        }

        @Override
        public <T> T accept(ConditionVisitor<T> visitor) {
            return visitor.visit(this);
        }
    }

    /** Picks every record. */
    record Any() implements Condition {
        @Override
        public <T> T accept(ConditionVisitor<T> visitor) {
            return visitor.visit(this);
        }
    }

    /**
     * Picks the records whose parent on a link meets a condition. A record without that parent isn't picked. Which record is
     * the parent is decided by the comparison that the database's own foreign key makes.
     *
     * @param link the link from the records to their parents
     * @param condition a condition on the parents
     */
    record OfParent(Link link, Condition condition) implements Condition {
        @Override
        public <T> T accept(ConditionVisitor<T> visitor) {
            return visitor.visit(this);
        }
    }

    /**
     * Does the same where many parents meet the condition.
     *
     * @param link the link from the records to their parents
     * @param condition a condition on the parents
     */
    record OfManyParents(Link link, Condition condition) implements Condition {
        @Override
        public <T> T accept(ConditionVisitor<T> visitor) {
            return visitor.visit(this);
        }
    }

    /**
     * Picks the records that are the parent on a link of some that meet a condition.
     *
     * @param link the link to the records from their children
     * @param condition a condition on the children
     */
    record OfChildren(Link link, Condition condition) implements Condition {
        @Override
        public <T> T accept(ConditionVisitor<T> visitor) {
            return visitor.visit(this);
        }
    }

    /**
     * Picks the records that meet at least one of the conditions.
     *
     * @param parts at least one
     */
    record AnyOf(List<Condition> parts) implements Condition {
        /** Keeps its own copy of the list. */
        public AnyOf {
            parts = List.copyOf(parts);
        }

        @Override
        public <T> T accept(ConditionVisitor<T> visitor) {
            return visitor.visit(this);
        }
    }

    /**
     * Picks the records that meet all of the conditions.
     *
     * @param parts at least one
     */
    record AllOf(List<Condition> parts) implements Condition {
        /** Keeps its own copy of the list. */
        public AllOf {
            parts = List.copyOf(parts);
        }

        @Override
        public <T> T accept(ConditionVisitor<T> visitor) {
            return visitor.visit(this);
        }
    }

    /**
     * Picks the records for which another condition is false, those for which it is unknown not among them: SQL's NOT.
     *
     * @param part what must be false
     */
    record Not(Condition part) implements Condition {
        @Override
        public <T> T accept(ConditionVisitor<T> visitor) {
            return visitor.visit(this);
        }
    }

    /**
     * Picks the records that another condition doesn't pick, those for which it is unknown among them.
     *
     * @param part what not to pick
     */
    record Except(Condition part) implements Condition {
        @Override
        public <T> T accept(ConditionVisitor<T> visitor) {
            return visitor.visit(this);
        }
    }

    /**
     * Picks what one of several conditions picks.
     *
     * @param parts the conditions
     * @return the condition, none if there are no parts
     */
    static Optional<Condition> anyOf(List<Condition> parts) {
        return parts.size() > 1 ? Optional.of(new AnyOf(parts)) : parts.stream().findFirst();
    }

    /**
     * Returns the tables beside the records' own that this condition asks about.
     *
     * @return the parents that are named in it, on any way
     */
    default Set<Table> parentsAsked() {
        if (this instanceof OfParent parent) {
            Set<Table> asked = new LinkedHashSet<>(parent.condition().parentsAsked());
            asked.add(parent.link().parent());
            return asked;
        }
        return joined().flatMap(part -> part.parentsAsked().stream()).collect(Collectors.toSet());
    }

    /**
     * A column that a condition asks about.
     *
     * @param table its table
     * @param column the column
     * @param isCompared whether it is compared with a value, and not only looked at whether there is one
     */
    record Asked(Table table, Column column, boolean isCompared) {
        @Override
        public String toString() {
            return table + "." + column;
        }
    }

    /**
     * Tells what the condition asks about: whether a record is picked tells what it holds there.
     *
     * @param table the table whose records it picks
     * @return the columns that are compared with something, those of parents among them; not keys that are listed
     */
    default Stream<Asked> asked(Table table) {
        if (this instanceof OfParent parent) {
            return parent.condition().asked(parent.link().parent());
        }
        if (this instanceof Sibling sibling) {
            Stream<Column> own = Stream.concat(sibling.key().stream(), sibling.after().stream());
            return Stream.concat(
                    own.map(column -> new Asked(table, column, true)), joined().flatMap(part -> part.asked(table)));
        }
        return Stream.concat(
                compared().map(column -> new Asked(table, column, !(this instanceof IsNull))).stream(),
                joined().flatMap(part -> part.asked(table)));
    }

    /** The column that this compares with something, if it is nothing but that. */
    private Optional<Column> compared() {
        if (this instanceof Compares compares) {
            return Optional.of(compares.column());
        }
        if (this instanceof Means means) {
            return Optional.of(means.column());
        }
        if (this instanceof OneOf oneOf) {
            return Optional.of(oneOf.column());
        }
        if (this instanceof Like like) {
            return Optional.of(like.column());
        }
        return this instanceof IsNull isNull ? Optional.of(isNull.column()) : Optional.empty();
    }

    /** What this is joined of, on the same records. */
    private Stream<Condition> joined() {
        if (this instanceof AnyOf any) {
            return any.parts().stream();
        }
        if (this instanceof AllOf all) {
            return all.parts().stream();
        }
        if (this instanceof Not not) {
            return Stream.of(not.part());
        }
        if (this instanceof Except except) {
            return Stream.of(except.part());
        }
        return this instanceof Sibling sibling ? sibling.that().stream() : Stream.of();
    }

    /**
     * Returns what picks the records for which this condition is false; those for which it is unknown are picked by
     * neither.
     *
     * @return the contrary
     */
    default Condition contrary() {
        if (this instanceof Compares compares && compares.comparison() != Comparison.NOT_EQUAL) {
            // Two that are not another needn't be equal: a time can be spelled in several ways.
            return new Compares(compares.column(), compares.comparison().contrary(), compares.value());
        }
        if (this instanceof OfParent parent) {
            return new OfParent(parent.link(), parent.condition().contrary());
        }
        return this instanceof Not not ? not.part() : new Not(this);
    }

    /**
     * Has this condition read by its kind.
     *
     * @param visitor makes something of each kind
     * @param <T> what it makes
     * @return what it made of this one
     */
    <T> T accept(ConditionVisitor<T> visitor);
}
