package dev.vacancy.internal.planning;

import dev.vacancy.By;
import dev.vacancy.Emptying;
import dev.vacancy.EmptyingPlan;
import dev.vacancy.FailureCode;
import dev.vacancy.Held;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.Fingerprint;
import dev.vacancy.internal.store.Purpose;
import dev.vacancy.internal.store.RecordStore;
import dev.vacancy.internal.trail.HoldsInForce;
import java.sql.Connection;
import java.time.Instant;
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

    /**
     * Makes a planner.
     *
     * @param planner has the rules, their catalog and the limits
     */
    public EmptyingPlanner(Planner planner) {
        this.planner = planner;
        this.rules = planner.rules();
    }

    /**
     * Reads what must not go.
     *
     * @param connection a connection
     * @return the holds that nobody has lifted; none without a trail
     */
    public HoldsInForce holds(Connection connection) {
        return planner.on(connection).holds();
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
        Planning planning = planner.on(connection);
        Scope scope = planning.scope(RequestDigest.of(emptying, rules.catalog()));
        refuseParent(table);
        OtherServers.refuseAtOnce(table, rules.catalog());
        MissingRights.refuseHalves(table, rules.catalog());
        RecordStore store = planning.records(locking ? Purpose.COMPARING : Purpose.LOOKING);
        Optional<RecordStore.EmptiedAtOnce> atOnce = store.emptiedAtOnce(table);
        List<String> triggers = atOnce.map(RecordStore.EmptiedAtOnce::triggers).orElse(List.of());
        boolean truncating = atOnce.map(RecordStore.EmptiedAtOnce::allowed).orElse(false)
                && (triggers.isEmpty() || emptying.passingOverTriggers());
        EmptyingPlan.Way way = truncating ? EmptyingPlan.Way.TRUNCATE : EmptyingPlan.Way.DELETE;
        if (truncating && locking) {
            store.lockToEmpty(table);
        } else {
            store.lockTable(table);
        }
        RecordStore.Tally tally = store.tallies(List.of(new RecordStore.Picked(table, new Condition.Any())))
                .get(0);
        Fingerprint fingerprint = new Fingerprint().add("empty", table.schema(), table.storedName(), way);
        if (!rules.ignored().ignores(table)) {
            fingerprint.add(tally.count(), tally.identifying());
        }
        List<String> passedOver = truncating ? triggers : List.of();
        passedOver.forEach(fingerprint::add);
        fingerprint.add(scope.database(), scope.rules(), scope.request());
        new UnrecordableColumns(rules, store)
                .refuse(List.of(new Step.Delete(table, new Condition.Any(), OptionalLong.of(tally.count()), false)));
        List<Held> held = new Holds(rules, store, planning.clock(), holds).on(table, new Condition.Any());
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
}
