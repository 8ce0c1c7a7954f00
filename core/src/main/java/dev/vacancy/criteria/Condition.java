package dev.vacancy.criteria;

import dev.vacancy.catalog.Column;
import dev.vacancy.dialect.Dialect;
import dev.vacancy.dialect.Fragment;
import dev.vacancy.dialect.KeySet;
import java.util.List;

/**
 * A condition that picks records of one table. It names columns of the catalog and holds values; both reach the
 * database as quoted names and bound values only.
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
        public Fragment in(Dialect dialect) {
            List<String> quoted = columns.stream()
                    .map(column -> dialect.quote(column.storedName()))
                    .toList();
            return dialect.among(quoted, new KeySet(types, keys));
        }
    }

    /**
     * Picks the records that meet at least one of the criteria.
     *
     * @param parts at least one
     */
    record AnyOf(List<Condition> parts) implements Condition {
        /** Keeps its own copy of the list. */
        public AnyOf {
            parts = List.copyOf(parts);
        }

        @Override
        public Fragment in(Dialect dialect) {
            return Fragment.join(" or ", all(parts, dialect));
        }
    }

    /**
     * Picks the records that meet all of the criteria.
     *
     * @param parts at least one
     */
    record AllOf(List<Condition> parts) implements Condition {
        /** Keeps its own copy of the list. */
        public AllOf {
            parts = List.copyOf(parts);
        }

        @Override
        public Fragment in(Dialect dialect) {
            return Fragment.join(" and ", all(parts, dialect));
        }
    }

    /**
     * Picks the records that another criteria doesn't pick, those among them for which it is unknown.
     *
     * @param part what not to pick
     */
    record Not(Condition part) implements Condition {
        @Override
        public Fragment in(Dialect dialect) {
            return part.in(dialect).between("(", ") is not true");
        }
    }

    /**
     * Picks by a key of the table itself.
     *
     * @param columns the key's columns
     * @param keys the keys
     * @return the criteria
     */
    static Condition among(List<Column> columns, List<List<Object>> keys) {
        return new Among(columns, keys, columns.stream().map(Column::type).toList());
    }

    /**
     * Says this condition in a database's own words.
     *
     * @param dialect the dialect of the database
     * @return a condition with its bound values
     */
    Fragment in(Dialect dialect);

    private static List<Fragment> all(List<Condition> parts, Dialect dialect) {
        return parts.stream().map(part -> part.in(dialect)).toList();
    }
}
