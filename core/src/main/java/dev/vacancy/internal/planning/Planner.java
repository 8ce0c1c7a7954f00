package dev.vacancy.internal.planning;

import dev.vacancy.Blocker;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.Held;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Limits;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Skipped;
import dev.vacancy.UnexpectedCountException;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.condition.SelectedRecords;
import dev.vacancy.internal.dialect.DatabaseIdentity;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.HoldsInForce;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.Rule;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;

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
    private final String schema;
    private final RecordObserver observer;

    /**
     * Makes a planner.
     *
     * @param rules the rule of each link of the catalog
     * @param dialect the dialect of the database
     * @param clock tells when a plan was made
     * @param limits how many keys are held, and how long is waited for locks
     * @param schema the schema that statements meant which named none, where the catalog was read
     */
    public Planner(Rules rules, Dialect dialect, Clock clock, Limits limits, String schema) {
        this(rules, dialect, clock, limits, schema, RecordObserver.NOBODY);
    }

    private Planner(Rules rules, Dialect dialect, Clock clock, Limits limits, String schema, RecordObserver observer) {
        this.observer = observer;
        this.rules = rules;
        this.dialect = dialect;
        this.clock = clock;
        this.limits = limits;
        this.schema = schema;
    }

    /**
     * Returns the same within other limits.
     *
     * @param other the limits
     * @return the other planner
     */
    public Planner within(Limits other) {
        return new Planner(rules, dialect, clock, other, schema, observer);
    }

    /**
     * Returns the same by other rules over the same catalog.
     *
     * @param others the rules
     * @return the other planner
     */
    public Planner under(Rules others) {
        return new Planner(others, dialect, clock, limits, schema, observer);
    }

    /**
     * Returns the same for somebody who may not plan everything.
     *
     * @param other looks at each selected record
     * @return the other planner
     */
    public Planner watchedBy(RecordObserver other) {
        return new Planner(rules, dialect, clock, limits, schema, other);
    }

    /**
     * Tells what a plan that is made on a connection is of.
     *
     * @param connection an open connection
     * @param request the digest of what is asked for
     * @return database, rules and request
     * @throws InvalidRequestException when the connection means another schema than the one that the catalog was read from
     */
    public Scope scope(Connection connection, String request) {
        try {
            DatabaseIdentity here = dialect.whereabouts(connection);
            if (!here.schema().equals(schema)) {
                throw new InvalidRequestException(
                        FailureCode.OTHER_SCHEMA,
                        "The connection's schema is '" + here.schema() + "', and the catalog was read from '" + schema
                                + "'.",
                        "Nothing was changed; use a connection to that schema, or a Vacancy that was made over this one.");
            }
            return new Scope(here.database(), rules.digest(), request);
        } catch (SQLException failure) {
            throw new DatabaseException("tell which database it is", "Check the connection.", failure);
        }
    }

    /**
     * Tells what the rules ask for before a plan is carried out that was made elsewhere, by rules that may ask for less.
     *
     * @param plan the plan
     * @param scope what it is of here
     * @return the same plan with what is asked for here
     */
    public Gated underTheseRules(PlannedDeletion plan, Scope scope) {
        ConsentDemands demands = new ConsentDemands(rules, rules.deleting(plan.table(), !plan.isSoft()));
        return new PlannedElsewhere(
                plan, demands.of(plan.counts(), plan.selected()), demands.colleague(plan.counts()), scope);
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
        Lookup lookup = new Lookup(connection, dialect, rules.catalog(), limits, Lookup.Purpose.LOOKING);
        return plan(connection, lookup, selection, by, clock.instant(), holds(connection));
    }

    /**
     * Tells what would become of records, whether that could be done or not: by whoever has no right to, under a hold, in a circle.
     *
     * @param connection a connection, best in a transaction that sees one state of the database throughout
     * @param selection which records
     * @param by who looks
     * @return what would become of them, without steps
     */
    public Planned trace(Connection connection, Selection selection, By by) {
        Lookup lookup = new Lookup(connection, dialect, rules.catalog(), limits, Lookup.Purpose.TRACING);
        return plan(connection, lookup, selection, by, clock.instant(), HoldsInForce.NONE);
    }

    /**
     * Plans the same deletion once more, to be run: the records are locked as they are read, until the transaction ends,
     * and no samples are taken.
     *
     * @param connection a connection in a transaction that sees what others have committed
     * @param plan the plan that was approved
     * @param holds what must not go, where it was read before; empty to read it on this connection
     * @return the plan as it is now
     * @throws UnexpectedCountException as for {@link #preview}
     */
    public Planned lock(Connection connection, Plan plan, Optional<HoldsInForce> holds) {
        Lookup lookup = locking(connection, plan.table(), Lookup.Purpose.COMPARING);
        return plan(
                connection,
                lookup,
                plan.selection(),
                plan.by(),
                plan.madeAt(),
                holds.orElseGet(() -> holds(connection)));
    }

    /**
     * Plans a deletion to be run at once: the records are locked as they are read.
     *
     * @param connection a connection in a transaction that sees what others have committed
     * @param selection what to delete
     * @param by who wants it, and why
     * @param holds what must not go, where it was read before; empty to read it on this connection
     * @return the plan
     */
    public Planned lock(Connection connection, Selection selection, By by, Optional<HoldsInForce> holds) {
        return lock(connection, selection, by, holds, Lookup.Purpose.COMPARING);
    }

    /**
     * Does the same where nobody has agreed to certain records and none is asked for afterwards: those that go along are locked and
     * counted, and children that nothing hangs on are counted by the statement that deletes them.
     *
     * @param connection a connection in a transaction that sees what others have committed
     * @param selection what to delete
     * @param by who wants it, and why
     * @param holds what must not go, where it was read before; empty to read it on this connection
     * @param reported whether keys are told afterwards of what went, so that it has to be known before
     * @return the plan, with no more than is needed to carry it out
     */
    public Planned decide(
            Connection connection, Selection selection, By by, Optional<HoldsInForce> holds, boolean reported) {
        boolean counted = reported || rules.recording().isPresent() || selection.isSkippingBlocked();
        return lock(connection, selection, by, holds, counted ? Lookup.Purpose.COMPARING : Lookup.Purpose.DELETING);
    }

    private Planned lock(
            Connection connection, Selection selection, By by, Optional<HoldsInForce> holds, Lookup.Purpose purpose) {
        Lookup lookup = locking(connection, rules.catalog().table(selection.table()), purpose);
        return plan(connection, lookup, selection, by, clock.instant(), holds.orElseGet(() -> holds(connection)));
    }

    /**
     * Reads what must not go. Where reading in a transaction that writes would lock all that is read, this is done before.
     *
     * @param connection a connection
     * @return the holds that nobody has lifted; none without a trail
     */
    public HoldsInForce holds(Connection connection) {
        if (rules.recording().isEmpty()) {
            return HoldsInForce.NONE;
        }
        try {
            return new TrailTables(rules.recording().get().trail(), dialect).holdsInForce(connection);
        } catch (SQLException failure) {
            throw new DatabaseException("read the audit trail", "Nothing was changed.", failure);
        }
    }

    /**
     * Tells which of some records are held.
     *
     * @param connection a connection in a transaction
     * @param table the table
     * @param condition picks the records
     * @param inForce the holds that nobody has lifted
     * @return each hold that is on any of them
     */
    public List<Held> held(Connection connection, Table table, Condition condition, HoldsInForce inForce) {
        Lookup lookup = new Lookup(connection, dialect, rules.catalog(), limits, Lookup.Purpose.LOOKING);
        return new Holds(rules, lookup, connection, clock, inForce).on(table, condition);
    }

    private Lookup locking(Connection connection, Table table, Lookup.Purpose purpose) {
        Lookup lookup = new Lookup(connection, dialect, rules.catalog(), limits, purpose);
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

    Clock clock() {
        return clock;
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
                : new Lookup(connection, dialect, rules.catalog(), limits, Lookup.Purpose.LOOKING)
                        .identities(table, condition, most, skippingHeld).stream()
                                .<Key>map(values -> new RecordKey(table.identity(), values))
                                .toList();
    }

    /**
     * Tells which of some records match a criteria.
     *
     * @param connection a connection in a transaction
     * @param table the table
     * @param keys the records
     * @param criteria the criteria
     * @param moment the moment that relative times are told from
     * @return the keys of those that do
     */
    public List<Key> matching(Connection connection, Table table, List<Key> keys, Criteria criteria, Instant moment) {
        Clock then = Clock.fixed(moment, clock.getZone());
        Condition among = new Condition.Among(
                table.identity(), keys.stream().map(Key::values).toList());
        return keys(
                connection,
                table,
                new Condition.AllOf(List.of(among, Resolution.of(criteria, table, rules.catalog(), then))),
                keys.size(),
                false);
    }

    /**
     * Reads the keys of the selected records one by one, however many there are.
     *
     * @param connection a connection in a transaction
     * @param selection what is selected, not by keys
     * @param moment the moment that relative times are told from
     * @param each takes each key, in their order
     * @return the digest of all of them
     */
    public String eachKey(Connection connection, Selection selection, Instant moment, Consumer<Key> each) {
        SelectedRecords selected = SelectedRecords.of(selection, rules.catalog(), Clock.fixed(moment, clock.getZone()));
        Table table = selected.table();
        KeyDigest digest = new KeyDigest();
        new Lookup(connection, dialect, rules.catalog(), limits, Lookup.Purpose.LOOKING)
                .eachInOrder(table, selected.picked().condition(), values -> {
                    Key key = new RecordKey(table.identity(), values);
                    digest.add(key);
                    each.accept(key);
                });
        return digest.hex();
    }

    /**
     * Tells whether anybody looks on.
     *
     * @return true if selected records are to be shown
     */
    public boolean isWatched() {
        return observer != RecordObserver.NOBODY;
    }

    /**
     * Shows each selected record to whoever looks on, before they are written down to go.
     *
     * @param connection a connection in a transaction
     * @param selection what is selected
     * @param moment the moment that relative times are told from
     */
    public void look(Connection connection, Selection selection, Instant moment) {
        SelectedRecords selected = SelectedRecords.of(selection, rules.catalog(), Clock.fixed(moment, clock.getZone()));
        eachRecord(
                connection,
                selected.table(),
                selected.picked().condition(),
                record -> observer.look(selection, record, true));
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
        new Lookup(connection, dialect, rules.catalog(), limits, Lookup.Purpose.LOOKING)
                .eachWholeInOrder(
                        table,
                        table.identity(),
                        condition,
                        row -> each.accept(records.content(table, row.exact(), row.values())));
    }

    /**
     * Reads the first few records, whole and in the order of their keys.
     *
     * @param connection a connection in a transaction
     * @param table the table
     * @param condition picks the records
     * @param most how many at most
     * @return the records
     */
    public List<RecordContent> first(Connection connection, Table table, Condition condition, int most) {
        return first(connection, table, condition, 0, most, Optional.empty());
    }

    /**
     * Reads a few records, whole and in the order of their keys.
     *
     * @param connection a connection in a transaction
     * @param table the table
     * @param condition picks the records
     * @param skipped how many of them come before
     * @param most how many at most
     * @param mayKnow which of them count; empty for all
     * @return the records
     */
    public List<RecordContent> first(
            Connection connection,
            Table table,
            Condition condition,
            int skipped,
            int most,
            Optional<Predicate<RecordContent>> mayKnow) {
        Part<RecordContent> part = new Part<>(skipped, most);
        if (mayKnow.isPresent()) {
            Predicate<RecordContent> known = mayKnow.get();
            eachRecord(connection, table, condition, record -> {
                if (!part.isFull() && known.test(record)) {
                    part.add(record);
                }
            });
            return part.list();
        }
        Part<List<Object>> keys = new Part<>(skipped, most);
        keys(connection, table, condition, (int) Math.min(Integer.MAX_VALUE, (long) skipped + most), false)
                .forEach(key -> keys.add(key.values()));
        List<RecordContent> records = new ArrayList<>();
        if (!keys.list().isEmpty()) {
            eachRecord(connection, table, new Condition.Among(table.identity(), keys.list()), records::add);
        }
        return records;
    }

    /** Relative times of a selection are told from the moment when it was first looked at, whenever it is run. */
    private Planned plan(
            Connection connection, Lookup lookup, Selection asked, By by, Instant moment, HoldsInForce held) {
        Scope scope = scope(connection, RequestDigest.of(asked, rules.catalog()));
        SelectedRecords selection = SelectedRecords.of(asked, rules.catalog(), Clock.fixed(moment, clock.getZone()));
        return new Comparability(selection).reading(() -> {
            Rules applying = asked.isPurge()
                    ? rules.purging(selection.table(), Clock.fixed(moment, clock.getZone()))
                    : rules.deleting(
                            selection.table(),
                            asked.isHard() || new HardDeletions(rules, lookup, clock).decides(selection));
            return new Planning(applying, lookup, selection, held, connection, scope).plan(asked, by, moment);
        });
    }

    /** Plans one deletion: the rules are those that apply to it. */
    private final class Planning {
        private final Rules rules;
        private final Lookup lookup;
        private final SelectedRecords selection;
        private final Table table;
        private final Holds holds;
        private final HoldsInForce inForce;
        private final Scope scope;

        Planning(
                Rules rules,
                Lookup lookup,
                SelectedRecords selection,
                HoldsInForce held,
                Connection connection,
                Scope scope) {
            this.scope = scope;
            this.inForce = held;
            this.holds = new Holds(rules, lookup, connection, clock, held);
            this.rules = rules;
            this.lookup = lookup;
            this.selection = selection;
            this.table = selection.table();
        }

        Planned plan(Selection asked, By by, Instant moment) {
            Optional<Condition> active = narrowing();
            Descent descent = new Descent(rules.catalog(), lookup, Map.of());
            Consumer<RecordContent> look = record -> observer.look(asked, record, lookup.locking());
            Roots roots = Roots.read(lookup, descent, rules, selection, active, mostRootsHeld(), look);
            Roots deleted = !rules.isMarked(table) || roots.notFound().isEmpty()
                    ? new Roots(List.of(), roots.notFound(), Optional.empty())
                    : Roots.read(
                            lookup,
                            descent,
                            rules,
                            selection.only(roots.notFound()),
                            Optional.empty(),
                            Long.MAX_VALUE,
                            look);
            List<Key> alreadyDeleted =
                    deleted.roots().stream().map(Roots.Root::key).toList();
            expect(selection, roots, deleted.notFound());
            refuseUselessParents(selection);
            List<Skipped> skipped = new ArrayList<>();
            OptionalLong ofTable = isOfMany(selection) && !lookup.locking()
                    ? OptionalLong.of(lookup.count(table, active.orElse(new Condition.Any())))
                    : OptionalLong.empty();
            while (true) {
                Gathering gathering = gathering(roots);
                Judgement judgement =
                        new Judgement(rules, clock, selection.newParents(), lookup, gathering, selection.skipBlocked());
                Consequences consequences = judgement.consequences(table, roots, skipped);
                if (judgement.blockedRoots().isEmpty()) {
                    judgement.refusal().ifPresent(useless -> {
                        throw useless;
                    });
                    MissingRights.refuse(consequences.steps(), rules.catalog());
                    OtherServers servers = new OtherServers(rules, dialect.locksAreLocal());
                    servers.refuse(consequences.steps());
                    new UnrecordableColumns(rules, lookup).refuse(consequences.steps());
                    new LatestRows(rules, lookup, clock).refuse(consequences.steps());
                    List<Held> held = holds.on(consequences.steps());
                    ConsentDemands demands = new ConsentDemands(Planner.this.rules, rules);
                    Consent demanded = demands.of(consequences.counts(), roots.count());
                    PlannedDeletion plan = new PlannedDeletion(
                            asked,
                            by,
                            moment,
                            table,
                            contents(roots.roots()),
                            roots.count(),
                            ofTable,
                            deleted.notFound(),
                            alreadyDeleted,
                            skipped,
                            consequences.counts(),
                            marked(consequences),
                            lookup.locking() ? Map.of() : inactive(gathering, consequences),
                            consequences.effects(),
                            consequences.touched(),
                            consequences.blockers(),
                            held,
                            Stream.of(
                                            consequences.warnings(),
                                            new Comparability(selection).warnings(dialect),
                                            servers.warnings(consequences.steps()),
                                            new ExpectedFollowUps(rules).notes(consequences))
                                    .flatMap(List::stream)
                                    .toList(),
                            servers.reached(consequences.steps()),
                            rules.recording().isPresent(),
                            consent(asked, roots, ofTable, demanded),
                            demands.colleague(consequences.counts()),
                            rules.ignored(),
                            fingerprint(consequences),
                            demanded,
                            scope,
                            keys(roots, skipped));
                    return new Planned(
                            plan,
                            roots.condition(table),
                            held.isEmpty() ? consequences.steps() : List.of(),
                            consequences.deferring(),
                            inForce,
                            gathering::condition);
                }
                roots = leaveOut(judgement.blockedRoots(), roots, skipped);
            }
        }

        /** Only active records are marked, and only others are purged. */
        private Optional<Condition> narrowing() {
            Optional<Condition> active =
                    rules.active(table).map(criteria -> Resolution.of(criteria, table, rules.catalog(), clock));
            if (selection.purging()) {
                return Optional.of(active.<Condition>map(Condition.Except::new)
                        .orElseThrow(() -> new InvalidRequestException(
                                FailureCode.RULES,
                                "Records of " + table + " are never soft-deleted, so none can be purged.",
                                "Give the table a marker, or delete its records.")));
            }
            return rules.isMarked(table) ? active : Optional.empty();
        }

        /** Where the rules say nothing of the table a person is asked, and has to know that all of it goes. */
        private Consent consent(Selection asked, Roots roots, OptionalLong ofTable, Consent demanded) {
            Consent consent = rules.consent(table).isPresent() ? demanded : demanded.and(Consent.YES);
            boolean whole = asked.isOfAllRecords()
                    || (roots.count() > 1 && ofTable.isPresent() && ofTable.getAsLong() == roots.count());
            // Whatever is purged has been deleted already; to take all that is past its time is what was asked for.
            return whole && !asked.isPurge() ? consent.and(Consent.NUMBER) : consent;
        }

        private String keys(Roots roots, List<Skipped> skipped) {
            KeyDigest keys = new KeyDigest();
            keys.add(roots.keys());
            skipped.forEach(left -> keys.add(left.root().key()));
            return keys.hex();
        }

        /** What is done, and where, by which rules and for which request. */
        private String fingerprint(Consequences consequences) {
            return new Fingerprint()
                    .add(scope.database(), scope.rules(), scope.request(), consequences.fingerprint())
                    .hex();
        }

        private Set<String> marked(Consequences consequences) {
            return consequences.counts().keySet().stream()
                    .filter(name -> rules.isMarked(rules.catalog().table(name)))
                    .collect(Collectors.toCollection(LinkedHashSet::new));
        }

        /** Of what goes for good, how many records were soft-deleted before. */
        private Map<String, Long> inactive(Gathering gathering, Consequences consequences) {
            Map<String, Long> inactive = new LinkedHashMap<>();
            for (String name : consequences.counts().keySet()) {
                Table going = rules.catalog().table(name);
                if (rules.isMarked(going) || rules.active(going).isEmpty()) {
                    continue;
                }
                Condition active = Resolution.of(rules.active(going).get(), going, rules.catalog(), clock);
                long count = lookup.count(
                        going,
                        new Condition.AllOf(
                                List.of(gathering.condition(going).orElseThrow(), new Condition.Except(active))));
                if (count > 0) {
                    inactive.put(name, count);
                }
            }
            return inactive;
        }

        /**
         * A run knows each of the records that it deletes by its key: what their criteria says of other records may change while
         * it runs, their keys don't. To tell which of the selected records a blocked one belongs to, each has to be known as well.
         */
        private long mostRootsHeld() {
            return (lookup.locking() && selection.keys().isEmpty())
                            || selection.skipBlocked()
                            || rules.catalog().circular().contains(table)
                    ? Long.MAX_VALUE
                    : limits.keysHeld();
        }

        private Gathering gathering(Roots roots) {
            Gathering gathering = new Gathering(
                    rules, clock, lookup, selection.skipBlocked() ? Integer.MAX_VALUE : limits.keysHeld());
            roots.unheld()
                    .ifPresentOrElse(
                            unheld -> gathering.select(table, unheld),
                            () -> roots.roots().forEach(root -> gathering.select(table, root.exact())));
            gathering.grow();
            return gathering;
        }
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

    private static void expect(SelectedRecords selection, Roots roots, List<Key> notFound) {
        long found = roots.count();
        if (selection.expected().isPresent() && selection.expected().getAsLong() != found) {
            String missing = notFound.isEmpty()
                    ? ""
                    : notFound.stream().limit(5).map(Key::text).collect(Collectors.joining(", ", " (not found: ", ")"));
            throw UnexpectedCountException.other(
                    selection.table().name(), selection.expected().getAsLong(), found, missing);
        }
        if (selection.most().isPresent() && selection.most().getAsLong() < found) {
            throw UnexpectedCountException.more(
                    selection.table().name(), selection.most().getAsLong(), found);
        }
    }
}
