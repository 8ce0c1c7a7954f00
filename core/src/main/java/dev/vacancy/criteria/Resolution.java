package dev.vacancy.criteria;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.failure.InvalidRequestException;
import java.sql.Types;
import java.time.Clock;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;

/** Turns criteria into a condition: finds the columns, follows the links to parents, converts the values. */
final class Resolution {
    private final Catalog catalog;
    private final Clock clock;

    Resolution(Catalog catalog, Clock clock) {
        this.catalog = catalog;
        this.clock = clock;
    }

    Condition resolve(Criteria criteria, Table table) {
        Condition condition = resolve(criteria, table, false);
        if (Tautology.is(condition)) {
            throw new InvalidRequestException(
                    "This criteria picks every record of " + table.name() + ".",
                    "Say what the records have in common that others have not.");
        }
        return condition;
    }

    /** A NOT is carried down to the single comparisons, so that what is unknown of a parent stays unknown. */
    private Condition resolve(Criteria criteria, Table table, boolean contrary) {
        if (criteria instanceof Criteria.Not not) {
            return resolve(not.part(), table, !contrary);
        }
        if (criteria instanceof Criteria.And and) {
            return joined(resolve(and.one(), table, contrary), resolve(and.other(), table, contrary), contrary);
        }
        if (criteria instanceof Criteria.Or or) {
            return joined(resolve(or.one(), table, contrary), resolve(or.other(), table, contrary), !contrary);
        }
        if (criteria instanceof Criteria.Compares compares) {
            return atColumn(
                    table,
                    compares.column(),
                    contrary,
                    (owner, column) -> new Condition.Compares(
                            column, compares.comparison(), value(owner, column, compares.value())));
        }
        if (criteria instanceof Criteria.In in) {
            return atColumn(
                    table,
                    in.column(),
                    contrary,
                    (owner, column) -> Condition.among(
                            List.of(column),
                            in.values().stream()
                                    .map(value -> List.of(value(owner, column, value)))
                                    .toList()));
        }
        if (criteria instanceof Criteria.Like like) {
            return atColumn(table, like.column(), contrary, (owner, column) -> like(owner, column, like.pattern()));
        }
        return atColumn(
                table,
                ((Criteria.IsNull) criteria).column(),
                contrary,
                (owner, column) -> new Condition.IsNull(column));
    }

    private interface AtColumn {
        Condition condition(Table owner, Column column);
    }

    private Condition atColumn(Table table, String path, boolean contrary, AtColumn leaf) {
        List<String> names = Arrays.asList(path.split("\\.", -1));
        return atColumn(table, names, contrary, leaf);
    }

    private Condition atColumn(Table table, List<String> path, boolean contrary, AtColumn leaf) {
        if (path.size() > 1 && isItself(table, path.get(0))) {
            return atColumn(table, path.subList(1, path.size()), contrary, leaf);
        }
        if (path.size() > 1) {
            Link link = link(table, path.get(0));
            return new Condition.OfParent(link, atColumn(link.parent(), path.subList(1, path.size()), contrary, leaf));
        }
        Condition condition = leaf.condition(table, table.column(path.get(0)));
        return contrary ? condition.contrary() : condition;
    }

    /** The table's own name never means a parent of the same table, whose columns are others. */
    private boolean isItself(Table table, String name) {
        return table.name().equalsIgnoreCase(name)
                && catalog.linksFrom(table).stream().noneMatch(link -> isByColumn(link, name));
    }

    private static boolean isByColumn(Link link, String name) {
        return link.childColumns().size() == 1
                && link.childColumns().get(0).name().equalsIgnoreCase(name);
    }

    /** A link by the name of its foreign-key column, or of the table it leads to if only one does. */
    private Link link(Table table, String name) {
        List<Link> links = catalog.linksFrom(table);
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
                found.isEmpty()
                        ? "No link leads from " + table.name() + " to a parent '" + name + "'."
                        : "Several links lead from " + table.name() + " to '" + name + "'.",
                ways.isEmpty()
                        ? "Name a column of " + table.name() + " itself."
                        : "Name the table or the foreign-key column of one of: " + ways + ".");
    }

    private static Condition like(Table owner, Column column, String pattern) {
        if (!column.isText()) {
            throw new InvalidRequestException(
                    owner.name() + "." + column.name() + " is " + column.type() + ", which has no patterns.",
                    "Use LIKE on text only.");
        }
        return new Condition.Like(column, (String) owner.convert(column, pattern));
    }

    private Object value(Table owner, Column column, Object given) {
        if (!(given instanceof Moment moment)) {
            return owner.convert(column, given);
        }
        LocalDateTime time = moment.at(clock);
        return switch (column.jdbcType()) {
            case Types.DATE -> time.toLocalDate();
            case Types.TIMESTAMP, Types.TIMESTAMP_WITH_TIMEZONE ->
                column.isZoned() ? time.atZone(zone()).toOffsetDateTime() : time;
            default ->
                throw new InvalidRequestException(
                        owner.name() + "." + column.name() + " is " + column.type() + ", which '" + moment
                                + "' is not.",
                        "Compare dates and times only with " + moment + ".");
        };
    }

    private ZoneId zone() {
        return clock.getZone();
    }

    private static Condition joined(Condition one, Condition other, boolean either) {
        List<Condition> parts = new ArrayList<>();
        for (Condition part : List.of(one, other)) {
            if (either && part instanceof Condition.AnyOf any) {
                parts.addAll(any.parts());
            } else if (!either && part instanceof Condition.AllOf all) {
                parts.addAll(all.parts());
            } else {
                parts.add(part);
            }
        }
        return either ? new Condition.AnyOf(parts) : new Condition.AllOf(parts);
    }
}
