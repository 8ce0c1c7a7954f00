package dev.vacancy.internal.planning;

import dev.vacancy.By;
import dev.vacancy.DatabaseException;
import dev.vacancy.Emptying;
import dev.vacancy.EmptyingPlan;
import dev.vacancy.FailureCode;
import dev.vacancy.Held;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Limits;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Truncation;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.HoldsInForce;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.stream.Collectors;

/**
 * Works out what emptying a table would do. It only ever reads.
 *
 * @since 0.1
 */
public final class EmptyingPlanner {
    private final Planner planner;
    private final Rules rules;
    private final Dialect dialect;
    private final Limits limits;

    /**
     * Makes a planner.
     *
     * @param planner has the rules, their catalog and the limits
     * @param dialect the dialect of the database
     */
    public EmptyingPlanner(Planner planner, Dialect dialect) {
        this.planner = planner;
        this.rules = planner.rules();
        this.dialect = dialect;
        this.limits = planner.limits();
    }

    /**
     * Reads what must not go.
     *
     * @param connection a connection
     * @return the holds that nobody has lifted; none without a trail
     */
    public HoldsInForce holds(Connection connection) {
        return planner.holds(connection);
    }

    /**
     * Looks at a table.
     *
     * @param connection a connection in a transaction
     * @param emptying what is wanted
     * @param by who wants it, and why
     * @param madeAt the moment
     * @param holds what must not go
     * @param locking true to keep others from changing the table until the transaction ends, as far as the database can
     * @return the plan
     * @throws InvalidRequestException when the table is unknown, links point at it, or what is done to it couldn't be taken back
     */
    public PlannedEmptying plan(
            Connection connection, Emptying emptying, By by, Instant madeAt, HoldsInForce holds, boolean locking) {
        Table table = rules.catalog().table(emptying.table());
        Scope scope = planner.scope(connection, RequestDigest.of(emptying, rules.catalog()));
        refuseParent(table);
        OtherServers.refuseAtOnce(table, rules.catalog());
        MissingRights.refuseHalves(table, rules.catalog());
        Optional<Truncation> truncation = dialect.truncation(dialect.name(table));
        List<String> triggers =
                truncation.map(way -> names(connection, table, way.triggers())).orElse(List.of());
        boolean truncating = truncation.isPresent()
                && (triggers.isEmpty() || emptying.passingOverTriggers())
                && isTrue(connection, table, truncation.get().allowed());
        EmptyingPlan.Way way = truncating ? EmptyingPlan.Way.TRUNCATE : EmptyingPlan.Way.DELETE;
        Lookup lookup = new Lookup(
                connection,
                dialect,
                rules.catalog(),
                limits,
                locking ? Lookup.Purpose.COMPARING : Lookup.Purpose.LOOKING);
        if (truncating && locking) {
            lookup.lock(table, truncation.get().lock());
        } else {
            lookup.lockTable(table);
        }
        Lookup.Tally tally = lookup.tallies(List.of(new Lookup.Picked(table, new Condition.Any())))
                .get(0);
        Fingerprint fingerprint = new Fingerprint().add("empty", table.schema(), table.storedName(), way);
        if (!rules.ignored().ignores(table)) {
            fingerprint.add(tally.count(), tally.edges());
        }
        List<String> passedOver = truncating ? triggers : List.of();
        passedOver.forEach(fingerprint::add);
        fingerprint.add(scope.database(), scope.rules(), scope.request());
        new UnrecordableColumns(rules, lookup)
                .refuse(List.of(new Step.Delete(table, new Condition.Any(), OptionalLong.of(tally.count()), false)));
        List<Held> held = new Holds(rules, lookup, connection, planner.clock(), holds)
                .on(List.of(new Step.Delete(table, new Condition.Any(), OptionalLong.of(tally.count()), false)));
        Map<String, Long> counts = tally.count() == 0 ? Map.of() : Map.of(table.name(), tally.count());
        ConsentDemands demands = new ConsentDemands(rules, rules.deleting(table, true));
        return new PlannedEmptying(
                emptying,
                by,
                madeAt,
                table,
                tally.count(),
                way,
                passedOver,
                held,
                holds,
                fingerprint.hex(),
                demands.colleague(Map.of(table.name(), tally.count())),
                demands.of(counts, tally.count()),
                scope);
    }

    private void refuseParent(Table table) {
        List<Link> links = rules.catalog().linksTo(table);
        if (!links.isEmpty()) {
            throw new InvalidRequestException(
                            FailureCode.HAS_CHILDREN,
                            table + " can't be emptied at once, as records of other tables can depend on its own: "
                                    + links.stream().map(Link::where).collect(Collectors.joining(", ")) + ".",
                            "Delete all its records by a selection, which deals with those as the rules say: allRecords(), or"
                                    + " 'delete " + table + " --all-records'.")
                    .about("table", table);
        }
    }

    private static boolean isTrue(Connection connection, Table table, Fragment query) {
        try (PreparedStatement statement = query.prepare(connection);
                ResultSet row = statement.executeQuery()) {
            return row.next() && row.getBoolean(1);
        } catch (SQLException failure) {
            throw unreadable(table, failure);
        }
    }

    private static List<String> names(Connection connection, Table table, Fragment query) {
        List<String> names = new ArrayList<>();
        try (PreparedStatement statement = query.prepare(connection);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                names.add(row.getString(1));
            }
        } catch (SQLException failure) {
            throw unreadable(table, failure);
        }
        return names;
    }

    private static DatabaseException unreadable(Table table, SQLException failure) {
        return new DatabaseException("tell how " + table + " can be emptied", "Nothing was changed.", failure);
    }
}
