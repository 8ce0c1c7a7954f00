package dev.vacancy.internal.planning;

import dev.vacancy.Blocker;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.Held;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Limits;
import dev.vacancy.Selection;
import dev.vacancy.Skipped;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.condition.SelectedRecords;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.Fingerprint;
import dev.vacancy.internal.store.KeyDigest;
import dev.vacancy.internal.store.RecordStore;
import dev.vacancy.internal.trail.HoldsInForce;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.Rule;
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
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** Plans one deletion, of records that a store has. */
final class DeletionPlanning {
    private final Rules all;
    private final Rules rules;
    private final RecordStore store;
    private final Clock clock;
    private final Limits limits;
    private final SelectedRecords selection;
    private final Table table;
    private final HoldsInForce inForce;
    private final Scope scope;
    private final Comparability comparability;

    /**
     * Prepares to plan.
     *
     * @param all all rules
     * @param rules those that apply to this deletion
     * @param scope what it is of
     */
    DeletionPlanning(
            Rules all,
            Rules rules,
            RecordStore store,
            Clock clock,
            Limits limits,
            SelectedRecords selection,
            HoldsInForce inForce,
            Scope scope) {
        this.all = all;
        this.rules = rules;
        this.store = store;
        this.clock = clock;
        this.limits = limits;
        this.selection = selection;
        this.table = selection.table();
        this.inForce = inForce;
        this.scope = scope;
        this.comparability = new Comparability(selection);
    }

    Planned plan(Selection asked, By by, Instant moment, RecordObserver observer) {
        Optional<Condition> active = narrowing();
        Consumer<RecordContent> look =
                record -> observer.look(asked, record, store.purpose().isLocking());
        Roots roots = Roots.read(store, rules, selection, active, mostRootsHeld(), look);
        Roots deleted = !rules.isMarked(table) || roots.notFound().isEmpty()
                ? new Roots(List.of(), roots.notFound(), Optional.empty())
                : Roots.read(store, rules, selection.only(roots.notFound()), Optional.empty(), Long.MAX_VALUE, look);
        roots.requireExpected(selection, deleted.notFound());
        refuseUselessParents(selection);
        List<Skipped> skipped = new ArrayList<>();
        OptionalLong ofTable = isOfMany(selection) && !store.purpose().isLocking()
                ? OptionalLong.of(store.count(table, active.orElse(new Condition.Any())))
                : OptionalLong.empty();
        while (true) {
            RecordSets sets = gathered(roots);
            Judgement judgement = new Judgement(rules, clock, selection.newParents(), sets, selection.skipBlocked());
            Consequences consequences = judgement.consequences(table, roots, skipped);
            if (judgement.blockedRoots().isEmpty()) {
                judgement.refusal().ifPresent(useless -> {
                    throw useless;
                });
                refuse(consequences.steps());
                List<Held> held = new Holds(rules, store, clock, inForce).on(consequences.steps());
                PlannedDeletion plan =
                        plan(asked, by, moment, roots, deleted, skipped, ofTable, sets, consequences, held);
                return new Planned(
                        plan,
                        roots.condition(table),
                        held.isEmpty() ? consequences.steps() : List.of(),
                        consequences.deferring(),
                        inForce,
                        sets::condition);
            }
            roots = leaveOut(judgement.blockedRoots(), roots, skipped);
        }
    }

    private void refuse(List<Step> steps) {
        MissingRights.refuse(steps, rules.catalog());
        otherServers().refuse(steps);
        new UnrecordableColumns(rules, store).refuse(steps);
        new LatestRows(rules, store, clock).refuse(steps);
    }

    private OtherServers otherServers() {
        return new OtherServers(rules, store.traits().locksAreLocal());
    }

    private PlannedDeletion plan(
            Selection asked,
            By by,
            Instant moment,
            Roots roots,
            Roots deleted,
            List<Skipped> skipped,
            OptionalLong ofTable,
            RecordSets sets,
            Consequences consequences,
            List<Held> held) {
        ConsentDemands demands = new ConsentDemands(all, rules);
        Consent demanded = demands.of(consequences.counts(), roots.count());
        return new PlannedDeletion(
                asked,
                by,
                moment,
                table,
                contents(roots.roots()),
                roots.count(),
                ofTable,
                deleted.notFound(),
                deleted.roots().stream().map(Roots.Root::key).toList(),
                skipped,
                consequences.counts(),
                marked(consequences),
                store.purpose().isLocking() ? Map.of() : inactive(sets, consequences),
                consequences.effects(),
                consequences.touched(),
                consequences.blockers(),
                held,
                Stream.of(
                                consequences.warnings(),
                                comparability.warnings(store),
                                otherServers().warnings(consequences.steps()),
                                new ExpectedFollowUps(rules).notes(consequences))
                        .flatMap(List::stream)
                        .toList(),
                otherServers().reached(consequences.steps()),
                isTransactional(consequences.steps()),
                rules.recording().isPresent(),
                consent(asked, roots, ofTable, demanded),
                demands.colleague(consequences.counts()),
                rules.ignored(),
                fingerprint(consequences),
                demanded,
                scope,
                keys(roots, skipped));
    }

    private boolean isTransactional(List<Step> steps) {
        return otherServers().reached(steps).isEmpty()
                && store.traits()
                        .isTransactional(steps.stream().mapToLong(Step::count).sum());
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
    private Map<String, Long> inactive(RecordSets sets, Consequences consequences) {
        Map<String, Long> inactive = new LinkedHashMap<>();
        for (String name : consequences.counts().keySet()) {
            Table going = rules.catalog().table(name);
            if (rules.isMarked(going) || rules.active(going).isEmpty()) {
                continue;
            }
            Condition active = Resolution.of(rules.active(going).get(), going, rules.catalog(), clock);
            long count = store.count(
                    going,
                    new Condition.AllOf(List.of(sets.condition(going).orElseThrow(), new Condition.Except(active))));
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
        return (store.purpose().isLocking() && selection.keys().isEmpty())
                        || selection.skipBlocked()
                        || rules.catalog().circular().contains(table)
                ? Long.MAX_VALUE
                : limits.keysHeld();
    }

    private RecordSets gathered(Roots roots) {
        long mostKeys = selection.skipBlocked() ? Integer.MAX_VALUE : limits.keysHeld();
        return new Gathering(rules, clock, store, mostKeys).from(table, roots);
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
}
