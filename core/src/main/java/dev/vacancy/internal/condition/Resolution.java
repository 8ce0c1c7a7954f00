package dev.vacancy.internal.condition;

import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Moment;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogColumn;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.request.Comparison;
import dev.vacancy.internal.request.CriteriaNode;
import java.sql.Types;
import java.time.Clock;
import java.time.ZonedDateTime;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;

/** Turns criteria into a condition: finds the columns, follows the links to parents, converts the values. */
public final class Resolution {
    private final DatabaseCatalog catalog;
    private final Clock clock;

    /** Tells all moments of a criteria from one and the same now. */
    private Resolution(DatabaseCatalog catalog, Clock clock) {
        this.catalog = catalog;
        this.clock = Clock.fixed(clock.instant(), clock.getZone());
    }

    /**
     * Says a criteria in terms of a catalog.
     *
     * @param criteria what picks records, by names
     * @param table the table whose records it picks
     * @param catalog what the database holds
     * @param clock tells the moment that relative times are told from
     * @return the condition
     * @throws InvalidRequestException when it names what isn't there, compares with a value of another type, or picks every
     *     record
     */
    public static Condition of(Criteria criteria, Table table, DatabaseCatalog catalog, Clock clock) {
        try {
            return new Resolution(catalog, clock).resolve(criteria, table);
        } catch (StackOverflowError deep) {
            throw new InvalidRequestException(
                    FailureCode.CRITERIA_SYNTAX, "The criteria is nested too deeply.", "Say the same more plainly.");
        }
    }

    /**
     * Says a part of a criteria, which by itself may pick every record.
     *
     * @param part the part
     * @param table the table whose records the criteria picks
     * @param catalog what the database holds
     * @param clock tells the moment that relative times are told from
     * @return the condition
     * @throws InvalidRequestException when it names what isn't there, or compares with a value of another type
     */
    public static Condition part(Criteria part, Table table, DatabaseCatalog catalog, Clock clock) {
        return new Resolution(catalog, clock).resolve(part, table, false);
    }

    /**
     * Finds the column that a criteria names.
     *
     * @param path the column's name, with the way to it in front where it is a parent's
     * @param table the table whose records the criteria picks
     * @param catalog what the database holds
     * @return the column
     * @throws InvalidRequestException when there is none
     */
    public static Column column(String path, Table table, DatabaseCatalog catalog) {
        List<Column> found = new ArrayList<>();
        new Resolution(catalog, Clock.systemUTC()).atColumn(table, path, false, (owner, column) -> {
            found.add(column);
            return new Condition.IsNull(column);
        });
        return found.get(0);
    }

    private Condition resolve(Criteria criteria, Table table) {
        Condition condition = resolve(criteria, table, false);
        if (Tautology.is(condition)) {
            throw new InvalidRequestException(
                    FailureCode.CRITERIA_OF_ALL,
                    "This criteria picks every record of " + table.name() + ".",
                    "Say what the records have in common that others have not.");
        }
        return condition;
    }

    /** A NOT is carried down to the single comparisons, so that what is unknown of a parent stays unknown. */
    private Condition resolve(Criteria criteria, Table table, boolean contrary) {
        if (criteria instanceof CriteriaNode.Not not) {
            return resolve(not.part(), table, !contrary);
        }
        if (criteria instanceof CriteriaNode.And || criteria instanceof CriteriaNode.Or) {
            boolean either = criteria instanceof CriteriaNode.Or != contrary;
            List<Condition> parts = new ArrayList<>();
            CriteriaNode.operands(criteria).forEach(part -> parts.add(resolve(part, table, contrary)));
            return Joined.of(parts, either);
        }
        if (criteria instanceof CriteriaNode.Sibling sibling) {
            Condition beside = new Condition.Sibling(
                    table,
                    sibling.key().stream().map(table::column).toList(),
                    sibling.after().map(table::column),
                    sibling.that().map(that -> resolve(that, table, false)));
            return contrary ? beside.contrary() : beside;
        }
        if (criteria instanceof CriteriaNode.Compares compares) {
            return atColumn(
                    table,
                    compares.column(),
                    contrary,
                    (owner, column) -> new Condition.Compares(
                            column, compares.comparison(), value(owner, column, compares.value())));
        }
        if (criteria instanceof CriteriaNode.In in) {
            return atColumn(table, in.column(), contrary, (owner, column) -> oneOf(owner, column, in.values()));
        }
        if (criteria instanceof CriteriaNode.Like like) {
            return atColumn(table, like.column(), contrary, (owner, column) -> like(owner, column, like.pattern()));
        }
        return atColumn(
                table,
                ((CriteriaNode.IsNull) criteria).column(),
                contrary,
                (owner, column) -> new Condition.IsNull(column));
    }

    /** A value that the column can't hold is in no record; sent to the database as one of a set, it might be rounded. */
    private Condition oneOf(Table owner, Column column, List<Object> given) {
        List<Object> values = given.stream()
                .map(value -> value(owner, column, value))
                .distinct()
                .toList();
        List<Object> possible = values.stream()
                .filter(value -> CatalogColumn.of(column).holds(value))
                .toList();
        return possible.isEmpty()
                ? new Condition.Compares(column, Comparison.EQUAL, values.get(0))
                : new Condition.OneOf(column, possible);
    }

    private interface AtColumn {
        Condition condition(Table owner, Column column);
    }

    private Condition atColumn(Table table, String path, boolean contrary, AtColumn leaf) {
        List<String> names = Arrays.asList(path.split("\\.", -1));
        return atColumn(table, names, contrary, leaf);
    }

    private Condition atColumn(Table table, List<String> path, boolean contrary, AtColumn leaf) {
        int own = table.name().split("\\.", -1).length;
        if (path.size() > own && isItself(table, String.join(".", path.subList(0, own)))) {
            return atColumn(table, path.subList(own, path.size()), contrary, leaf);
        }
        if (path.size() > 1 && !isColumn(table, path)) {
            int end = endOfLink(table, path);
            Link link = link(table, String.join(".", path.subList(0, end)));
            return new Condition.OfParent(
                    link, atColumn(link.parent(), path.subList(end, path.size()), contrary, leaf));
        }
        Condition condition = leaf.condition(table, table.column(String.join(".", path)));
        return contrary ? condition.contrary() : condition;
    }

    /** A field in an embedded document has a name with points. */
    private static boolean isColumn(Table table, List<String> path) {
        String name = String.join(".", path);
        return table.columns().stream().anyMatch(column -> column.name().equalsIgnoreCase(name));
    }

    private int endOfLink(Table table, List<String> path) {
        for (int end = path.size() - 1; end > 1; end--) {
            String name = String.join(".", path.subList(0, end));
            if (catalog.linksFrom(table).stream().anyMatch(link -> isByColumn(link, name))) {
                return end;
            }
        }
        return 1;
    }

    /** The table's own name never means a parent of the same table, whose columns are others. */
    private boolean isItself(Table table, String name) {
        return table.name().equalsIgnoreCase(name)
                && catalog.linksFrom(table).stream()
                        .noneMatch(link -> !CatalogLink.of(link).isMirror() && isByColumn(link, name));
    }

    private static boolean isByColumn(Link link, String name) {
        return link.childColumns().size() == 1
                && link.childColumns().get(0).name().equalsIgnoreCase(name);
    }

    /** A link by the name of its foreign-key column, or of the table it leads to if only one does. */
    private Link link(Table table, String name) {
        List<Link> links = catalog.linksFrom(table).stream()
                .filter(link -> !CatalogLink.of(link).isMirror())
                .toList();
        List<Link> byColumn =
                links.stream().filter(link -> isByColumn(link, name)).toList();
        List<Link> found = byColumn.isEmpty()
                ? links.stream()
                        .filter(link -> link.parent().name().equalsIgnoreCase(name))
                        .toList()
                : byColumn;
        if (found.size() == 1) {
            return found.get(0);
        }
        String ways = links.stream().map(Link::toString).collect(Collectors.joining(", "));
        throw new InvalidRequestException(
                FailureCode.UNKNOWN_LINK,
                found.isEmpty()
                        ? "No link leads from " + table.name() + " to a parent '" + name + "'."
                        : "Several links lead from " + table.name() + " to '" + name + "'.",
                ways.isEmpty()
                        ? "Name a column of " + table.name() + " itself."
                        : "Name the table or the foreign-key column of one of: " + ways + ".");
    }

    private static Condition like(Table owner, Column column, String pattern) {
        if (!CatalogColumn.of(column).isText()) {
            throw new InvalidRequestException(
                    FailureCode.VALUE_TYPE,
                    owner.name() + "." + column.name() + " is " + ColumnType.of(column) + ", which has no patterns.",
                    "Use LIKE on text only.");
        }
        return new Condition.Like(column, (String) CatalogTable.of(owner).convert(column, pattern));
    }

    private Object value(Table owner, Column column, Object given) {
        if (given instanceof Moment moment) {
            return moment(owner, column, moment);
        }
        Object value = CatalogTable.of(owner).convert(column, given);
        if (!CatalogTable.of(owner).isComparable(column, value)) {
            throw new InvalidRequestException(
                    FailureCode.VALUE_TYPE,
                    owner.name() + "." + column.name() + " is compared with " + value + ", which is finer than the "
                            + ColumnType.of(column).finest()
                            + " digits behind the second that this database tells apart.",
                    "Leave the last digits out.");
        }
        return value;
    }

    private Object moment(Table owner, Column column, Moment moment) {
        ZonedDateTime time = coarsened(moment.at(clock), ColumnType.of(column).finest());
        return switch (column.jdbcType()) {
            case Types.DATE -> time.toLocalDate();
            case Types.TIMESTAMP, Types.TIMESTAMP_WITH_TIMEZONE ->
                CatalogColumn.of(column).isZoned() ? time.toOffsetDateTime() : time.toLocalDateTime();
            default ->
                throw new InvalidRequestException(
                        FailureCode.VALUE_TYPE,
                        owner.name() + "." + column.name() + " is " + ColumnType.of(column) + ", which '" + moment
                                + "' is not.",
                        "Compare dates and times only with " + moment + ".");
        };
    }

    private static ZonedDateTime coarsened(ZonedDateTime time, int digits) {
        return digits >= 9 ? time : time.truncatedTo(digits >= 6 ? ChronoUnit.MICROS : ChronoUnit.SECONDS);
    }
}
