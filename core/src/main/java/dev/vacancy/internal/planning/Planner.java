package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Selection;
import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.SelectedRecords;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.plan.Blocker;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Limits;
import dev.vacancy.plan.Plan;
import dev.vacancy.plan.Skipped;
import dev.vacancy.plan.UnexpectedCountException;
import dev.vacancy.rule.Rule;
import dev.vacancy.rule.Rules;
import java.sql.Connection;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import java.util.function.Consumer;
import java.util.stream.Collectors;

/**
 * Works out plans. It only ever reads.
 *
 * @since 0.1
 */
public final class Planner {
    private final Rules rules;
    private final Dialect dialect;
    private final Clock clock;
    private final Limits limits;

    /**
     * Makes a planner.
     *
     * @param rules the rule of each link of the catalog
     * @param dialect the dialect of the database
     * @param clock tells when a plan was made
     * @param limits how many keys are held, and how long is waited for locks
     */
    public Planner(Rules rules, Dialect dialect, Clock clock, Limits limits) {
        this.rules = rules;
        this.dialect = dialect;
        this.clock = clock;
        this.limits = limits;
    }

    /**
     * Plans a deletion to be looked at: with samples, without locks.
     *
     * @param connection a connection, best in a transaction that sees one state of the database throughout
     * @param selection what to delete
     * @param by who wants it, and why
     * @return the plan
     * @throws InvalidRequestException when the selection doesn't fit the catalog
     * @throws UnexpectedCountException when the selection says how many records it must match and matches others
     */
    public Planned preview(Connection connection, Selection selection, By by) {
        return plan(new Lookup(connection, dialect, rules.catalog(), limits, false), selection, by, clock.instant());
    }

    /**
     * Plans the same deletion once more, to be run: the records are locked as they are read, until the transaction ends,
     * and no samples are taken.
     *
     * @param connection a connection in a transaction that sees what others have committed
     * @param plan the plan that was approved
     * @return the plan as it is now
     * @throws UnexpectedCountException as for {@link #preview}
     */
    public Planned lock(Connection connection, Plan plan) {
        Lookup lookup = locking(connection, plan.table());
        return plan(lookup, plan.selection(), plan.by(), plan.madeAt());
    }

    /**
     * Plans a deletion to be run at once: the records are locked as they are read.
     *
     * @param connection a connection in a transaction that sees what others have committed
     * @param selection what to delete
     * @param by who wants it, and why
     * @return the plan
     */
    public Planned lock(Connection connection, Selection selection, By by) {
        Lookup lookup = locking(connection, rules.catalog().table(selection.table()));
        return plan(lookup, selection, by, clock.instant());
    }

    private Lookup locking(Connection connection, Table table) {
        Lookup lookup = new Lookup(connection, dialect, rules.catalog(), limits, true);
        lookup.begin(table);
        return lookup;
    }

    /**
     * Returns what plans are made from.
     *
     * @return the rules and their catalog
     */
    public Rules rules() {
        return rules;
    }

    /**
     * Returns how far plans and runs may go.
     *
     * @return the limits
     */
    public Limits limits() {
        return limits;
    }

    /**
     * Reads the keys of records, without waiting for anybody.
     *
     * @param connection a connection in a transaction
     * @param table the table
     * @param condition picks the records
     * @param most how many at most
     * @param skippingHeld true to leave out those that someone else has locked
     * @return the keys in order; none of a table without any
     */
    public List<Key> keys(Connection connection, Table table, Condition condition, int most, boolean skippingHeld) {
        return table.identity().isEmpty()
                ? List.of()
                : new Lookup(connection, dialect, rules.catalog(), limits, false)
                        .identities(table, condition, most, skippingHeld).stream()
                                .map(values -> new Key(table.identity(), values))
                                .toList();
    }

    /**
     * Reads the keys of the selected records one by one, however many there are.
     *
     * @param connection a connection in a transaction
     * @param selection what is selected, not by keys
     * @param moment the moment that relative times are told from
     * @param each takes each key, in their order
     */
    public void eachKey(Connection connection, Selection selection, Instant moment, Consumer<Key> each) {
        SelectedRecords selected = SelectedRecords.of(selection, rules.catalog(), Clock.fixed(moment, clock.getZone()));
        Table table = selected.table();
        new Lookup(connection, dialect, rules.catalog(), limits, false)
                .eachInOrder(
                        table, selected.picked().condition(), values -> each.accept(new Key(table.identity(), values)));
    }

    /**
     * Reads records whole, one by one and in the order of their keys, however many there are.
     *
     * @param connection a connection in a transaction
     * @param table the table
     * @param condition picks the records
     * @param each takes each record
     */
    public void eachRecord(Connection connection, Table table, Condition condition, Consumer<RecordContent> each) {
        Records records = new Records(rules.catalog());
        new Lookup(connection, dialect, rules.catalog(), limits, false)
                .eachWholeInOrder(
                        table,
                        table.identity(),
                        condition,
                        row -> each.accept(records.content(table, row.exact(), row.values())));
    }

    /** Relative times of a selection are told from the moment when it was first looked at, whenever it is run. */
    private Planned plan(Lookup lookup, Selection asked, By by, Instant moment) {
        SelectedRecords selection = SelectedRecords.of(asked, rules.catalog(), Clock.fixed(moment, clock.getZone()));
        Roots roots = Roots.read(
                lookup,
                new Descent(rules.catalog(), lookup, Map.of()),
                rules,
                selection,
                mostRootsHeld(selection, lookup));
        expect(selection, roots);
        refuseUselessParents(selection);
        List<Skipped> skipped = new ArrayList<>();
        OptionalLong ofTable = isOfMany(selection) && !lookup.locking()
                ? OptionalLong.of(lookup.count(selection.table(), new Condition.Any()))
                : OptionalLong.empty();
        while (true) {
            Gathering gathering = gathering(selection, roots, lookup);
            Judgement judgement =
                    new Judgement(rules, clock, selection.newParents(), lookup, gathering, selection.skipBlocked());
            Consequences consequences = judgement.consequences(selection.table(), roots, skipped);
            if (judgement.blockedRoots().isEmpty()) {
                judgement.refusal().ifPresent(useless -> {
                    throw useless;
                });
                MissingRights.refuse(consequences.steps(), rules.catalog());
                Plan plan = new Plan(
                        asked,
                        by,
                        moment,
                        selection.table(),
                        contents(roots.roots()),
                        roots.count(),
                        ofTable,
                        roots.notFound(),
                        skipped,
                        consequences.counts(),
                        consequences.effects(),
                        consequences.blockers(),
                        consequences.warnings(),
                        rules.drift(),
                        consequences.fingerprint());
                return new Planned(
                        plan, roots.condition(selection.table()), consequences.steps(), consequences.deferring());
            }
            roots = leaveOut(judgement.blockedRoots(), roots, skipped);
        }
    }

    /**
     * A run knows each of the records that it deletes by its key: what their criteria says of other records may change while it
     * runs. To tell which of the selected records a blocked one belongs to, each has to be known as well.
     */
    private long mostRootsHeld(SelectedRecords selection, Lookup lookup) {
        return lookup.locking()
                        || selection.skipBlocked()
                        || rules.catalog().circular().contains(selection.table())
                ? Long.MAX_VALUE
                : limits.keysHeld();
    }

    private Gathering gathering(SelectedRecords selection, Roots roots, Lookup lookup) {
        Gathering gathering =
                new Gathering(rules, clock, lookup, selection.skipBlocked() ? Integer.MAX_VALUE : limits.keysHeld());
        roots.unheld()
                .ifPresentOrElse(
                        unheld -> gathering.select(selection.table(), unheld),
                        () -> roots.roots().forEach(root -> gathering.select(selection.table(), root.exact())));
        gathering.grow();
        return gathering;
    }

    /** Of one record that was named, how many others there are doesn't matter. */
    private static boolean isOfMany(SelectedRecords selection) {
        return selection.keys().size() != 1;
    }

    private static List<RecordContent> contents(List<Roots.Root> roots) {
        return roots.stream().flatMap(root -> root.content().stream()).toList();
    }

    /** What a blocked record would have taken along stays too, and may in turn forbid what it didn't before. */
    private static Roots leaveOut(Map<Key, List<Blocker>> blocked, Roots roots, List<Skipped> skipped) {
        roots.roots().stream()
                .filter(root -> blocked.containsKey(root.key()))
                .map(root -> new Skipped(root.content().orElseThrow(), blocked.get(root.key())))
                .forEach(skipped::add);
        skipped.sort(Comparator.comparing(left -> left.root().key()));
        return roots.without(blocked::containsKey);
    }

    private void refuseUselessParents(SelectedRecords selection) {
        for (Link link : selection.newParents().keySet()) {
            if (rules.of(link).stream().noneMatch(rule -> rule.rule() == Rule.REASSIGN)) {
                throw new InvalidRequestException(
                        FailureCode.NOT_REASSIGNED,
                        "Children on " + link.where() + " can't be handed over: their rule is another one.",
                        "Leave that out, or give the link the rule reassign.");
            }
        }
    }

    private static void expect(SelectedRecords selection, Roots roots) {
        long found = roots.count();
        if (selection.expected().isPresent() && selection.expected().getAsLong() != found) {
            String missing = roots.notFound().isEmpty()
                    ? ""
                    : roots.notFound().stream()
                            .limit(5)
                            .map(Key::text)
                            .collect(Collectors.joining(", ", " (not found: ", ")"));
            throw UnexpectedCountException.other(
                    selection.table().name(), selection.expected().getAsLong(), found, missing);
        }
        if (selection.most().isPresent() && selection.most().getAsLong() < found) {
            throw UnexpectedCountException.more(
                    selection.table().name(), selection.most().getAsLong(), found);
        }
    }
}
