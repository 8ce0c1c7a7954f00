package dev.vacancy.criteria;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.dialect.Dialect;
import dev.vacancy.dialect.Fragment;
import dev.vacancy.dialect.KeySet;
import dev.vacancy.dialect.Statements;
import java.util.ArrayList;
import java.util.List;

/**
 * A condition on the records of one table, in terms of the catalog: it names columns that are there and holds values of
 * their types. Both reach the database as quoted names and bound values only.
 *
 * @since 0.1
 */
public sealed interface Condition {
    /**
     * Picks the records whose columns hold one of the given keys. A null in a column picks nothing.
     *
     * @param columns the columns, at least one
     * @param keys the keys, each with one value for each column
     * @param types the database's type names of the keys' values, one for each column
     */
    record Among(List<Column> columns, List<List<Object>> keys, List<String> types) implements Condition {
        /** Keeps its own copies of the lists. */
        public Among {
            columns = List.copyOf(columns);
            keys = List.copyOf(keys);
            types = List.copyOf(types);
        }

        @Override
        public Fragment in(Dialect dialect, String qualifier) {
            return dialect.among(names(columns, dialect, qualifier), new KeySet(types, keys));
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
        @Override
        public Fragment in(Dialect dialect, String qualifier) {
            return dialect.value(column.type(), value)
                    .between(name(column, dialect, qualifier) + " " + comparison.sql() + " ", "");
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
        public Fragment in(Dialect dialect, String qualifier) {
            return dialect.like(name(column, dialect, qualifier), pattern);
        }
    }

    /**
     * Picks the records whose column is null.
     *
     * @param column the column
     */
    record IsNull(Column column) implements Condition {
        @Override
        public Fragment in(Dialect dialect, String qualifier) {
            return Fragment.of(name(column, dialect, qualifier) + " is null");
        }
    }

    /**
     * Picks the records whose parent on a link meets a condition. A record without that parent isn't picked.
     *
     * @param link the link from the records to their parents
     * @param condition a condition on the parents
     */
    record OfParent(Link link, Condition condition) implements Condition {
        @Override
        public Fragment in(Dialect dialect, String qualifier) {
            String parent = qualifier.startsWith("parent") ? qualifier + "_parent" : "parent";
            List<Fragment> conditions = new ArrayList<>();
            for (int i = 0; i < link.childColumns().size(); i++) {
                conditions.add(Fragment.of(name(link.parentColumns().get(i), dialect, parent) + " = "
                        + name(link.childColumns().get(i), dialect, qualifier)));
            }
            conditions.add(condition.in(dialect, parent));
            return Statements.exists(link.parent().in(dialect) + " " + parent, Fragment.join(" and ", conditions));
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
        public Fragment in(Dialect dialect, String qualifier) {
            return Fragment.join(" or ", all(parts, dialect, qualifier));
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
        public Fragment in(Dialect dialect, String qualifier) {
            return Fragment.join(" and ", all(parts, dialect, qualifier));
        }
    }

    /**
     * Picks the records for which another condition is false, those for which it is unknown not among them: SQL's NOT.
     *
     * @param part what must be false
     */
    record Not(Condition part) implements Condition {
        @Override
        public Fragment in(Dialect dialect, String qualifier) {
            return part.in(dialect, qualifier).between("not (", ")");
        }
    }

    /**
     * Picks the records that another condition doesn't pick, those for which it is unknown among them.
     *
     * @param part what not to pick
     */
    record Except(Condition part) implements Condition {
        @Override
        public Fragment in(Dialect dialect, String qualifier) {
            // H2 can't parse IS NOT TRUE behind every condition.
            return part.in(dialect, qualifier).between("case when ", " then 1 else 0 end = 0");
        }
    }

    /** How a column is compared with a value. */
    enum Comparison {
        /** The same. */
        EQUAL("="),
        /** Another. */
        NOT_EQUAL("<>"),
        /** Less. */
        LESS("<"),
        /** Less or the same. */
        AT_MOST("<="),
        /** Greater. */
        GREATER(">"),
        /** Greater or the same. */
        AT_LEAST(">=");

        private final String sql;

        Comparison(String sql) {
            this.sql = sql;
        }

        String sql() {
            return sql;
        }

        Comparison contrary() {
            return switch (this) {
                case EQUAL -> NOT_EQUAL;
                case NOT_EQUAL -> EQUAL;
                case LESS -> AT_LEAST;
                case AT_LEAST -> LESS;
                case GREATER -> AT_MOST;
                case AT_MOST -> GREATER;
            };
        }

        /** Whether it holds of a value that comes before another (below 0), is the same (0) or comes after it. */
        boolean holds(int order) {
            return switch (this) {
                case EQUAL -> order == 0;
                case NOT_EQUAL -> order != 0;
                case LESS -> order < 0;
                case AT_MOST -> order <= 0;
                case GREATER -> order > 0;
                case AT_LEAST -> order >= 0;
            };
        }
    }

    /**
     * Picks by a key of the table itself.
     *
     * @param columns the key's columns
     * @param keys the keys
     * @return the condition
     */
    static Condition among(List<Column> columns, List<List<Object>> keys) {
        return new Among(columns, keys, columns.stream().map(Column::type).toList());
    }

    /**
     * Returns what picks the records for which this condition is false; those for which it is unknown are picked by
     * neither.
     *
     * @return the contrary
     */
    default Condition contrary() {
        if (this instanceof Compares compares) {
            return new Compares(compares.column(), compares.comparison().contrary(), compares.value());
        }
        if (this instanceof OfParent parent) {
            return new OfParent(parent.link(), parent.condition().contrary());
        }
        return this instanceof Not not ? not.part() : new Not(this);
    }

    /**
     * Says this condition in a database's own words.
     *
     * @param dialect the dialect of the database
     * @param table the table whose records it picks from
     * @return a condition with its bound values
     */
    default Fragment in(Dialect dialect, Table table) {
        return in(dialect, dialect.quote(table.storedName()));
    }

    /**
     * Says this condition where the table goes by another name.
     *
     * @param dialect the dialect of the database
     * @param qualifier what stands before the names of the table's columns, quoted where it needs to be
     * @return a condition with its bound values
     */
    Fragment in(Dialect dialect, String qualifier);

    private static String name(Column column, Dialect dialect, String qualifier) {
        return qualifier + "." + dialect.quote(column.storedName());
    }

    private static List<String> names(List<Column> columns, Dialect dialect, String qualifier) {
        return columns.stream().map(column -> name(column, dialect, qualifier)).toList();
    }

    private static List<Fragment> all(List<Condition> parts, Dialect dialect, String qualifier) {
        return parts.stream().map(part -> part.in(dialect, qualifier)).toList();
    }
}
