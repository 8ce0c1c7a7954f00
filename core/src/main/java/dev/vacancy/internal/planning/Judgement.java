package dev.vacancy.internal.planning;

import dev.vacancy.Blocker;
import dev.vacancy.Effect;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Skipped;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.rules.IgnoredChanges;
import dev.vacancy.internal.rules.LinkRule;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.Fingerprint;
import dev.vacancy.internal.store.KeyDigest;
import dev.vacancy.internal.store.RecordStore;
import dev.vacancy.internal.store.Records;
import dev.vacancy.rule.Rule;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * Judges the children of the records that go, once that set is final: which go, which stay and how, which forbid it. A
 * child that goes anyway forbids nothing.
 */
final class Judgement {
    private final DatabaseCatalog catalog;
    private final Rules rules;
    private final IgnoredChanges ignored;
    private final NewParents newParents;
    private final RecordStore store;
    private final RecordSets sets;
    private final Samples samples;
    private final boolean tracing;
    private final BlockedRoots blockedRoots;
    private final Fingerprint fingerprint = new Fingerprint();
    private final Map<Table, Long> counts = new LinkedHashMap<>();
    private final List<Samples.Affected> affected = new ArrayList<>();
    private final List<Blocker> blockers = new ArrayList<>();
    private final List<Step> steps = new ArrayList<>();

    /**
     * Judges nothing yet.
     *
     * @param clock tells the moment
     * @param requested the parents that the request names to take over children
     * @param tracing whether it matters which of the selected records each blocker belongs to
     */
    Judgement(Rules rules, Clock clock, Map<Link, Key> requested, RecordSets sets, boolean tracing) {
        this.rules = rules;
        this.catalog = rules.catalog();
        this.ignored = rules.ignored();
        this.tracing = tracing;
        this.sets = sets;
        this.store = sets.store();
        this.samples = new Samples(sets, new Records(catalog));
        this.blockedRoots = new BlockedRoots(sets, samples);
        this.newParents = new NewParents(rules, clock, requested, sets);
    }

    /** Why the request can't be planned as it stands, unless it is because of something that is left out yet. */
    Optional<InvalidRequestException> refusal() {
        return newParents.refusal();
    }

    /** Who blocks each of the selected records that can't go. */
    Map<Key, List<Blocker>> blockedRoots() {
        return blockedRoots.byRoot();
    }

    Consequences consequences(Table root, Roots roots, List<Skipped> skipped) {
        fingerprint.add("root", root.schema(), root.storedName());
        KeyDigest contents = roots.contents();
        fingerprint.add(contents.count(), contents.hex());
        skipped.forEach(left -> fingerprint
                .add("skipped")
                .addAll(RecordKey.of(left.root().key()).storable()));
        ChildCounts children = new ChildCounts(rules, sets);
        sets.tables().forEach(table -> count(table, children));
        sets.links().stream().flatMap(link -> sets.casesOf(link).stream()).forEach(way -> judge(way, children));
        StepOrder order = new StepOrder(rules, sets, counts, children.uncounted());
        List<Step.Touch> touches = new LastChangeUpdates(rules, sets).of(counts.keySet());
        if (blockers.isEmpty() && store.purpose().isToBeDone()) {
            // Those who are touched are told by their children, which must still be active.
            steps.addAll(0, touches);
            steps.addAll(order.steps());
        }
        steps.forEach(step -> fingerprint.add(step.attempt(), ignored.ignores(step.table()) ? "" : step.count()));
        Map<String, Long> byName = new LinkedHashMap<>();
        name(root, byName);
        return new Consequences(
                byName,
                store.purpose().isLocking()
                        ? affected.stream().map(Samples.Affected::effect).toList()
                        : samples.of(affected),
                blockers,
                store.purpose().isLocking() ? List.of() : warningsOfHalves(),
                blockers.isEmpty() && store.purpose().isToBeDone() ? steps : List.of(),
                touched(touches),
                order.deferring(),
                fingerprint.hex());
    }

    private static Map<String, Long> touched(List<Step.Touch> touches) {
        Map<String, Long> touched = new LinkedHashMap<>();
        touches.forEach(touch -> touched.put(touch.table().name(), touch.count()));
        return touched;
    }

    /** A record that stands in two tables can be deleted by half. */
    private List<String> warningsOfHalves() {
        List<String> warnings = new ArrayList<>();
        for (Link link : catalog.links()) {
            long halves = CatalogLink.of(link).sharesKey() && counts.containsKey(link.child()) ? halves(link) : 0;
            if (halves > 0) {
                warnings.add(String.format(
                        Locale.ROOT,
                        "%,d %s of %s %s only half of what %s: the other half, in %s, stays. The rule 'part of' on %s would take"
                                + " it along.",
                        halves,
                        halves == 1 ? "record" : "records",
                        link.child(),
                        halves == 1 ? "is" : "are",
                        halves == 1 ? "it belongs to" : "they belong to",
                        link.parent(),
                        link.where()));
            }
        }
        return warnings;
    }

    private long halves(Link link) {
        Condition going = sets.condition(link.child()).orElseThrow();
        return sets.condition(link.parent())
                .<Condition>map(parents -> new Condition.Except(new Condition.OfParent(link, parents)))
                .map(alone -> store.count(link.child(), new Condition.AllOf(List.of(going, alone))))
                .orElse(counts.get(link.child()));
    }

    /** Puts the counts into the order of the tree: a table, then what hangs on it. */
    private void name(Table table, Map<String, Long> byName) {
        if (!counts.containsKey(table) || byName.putIfAbsent(table.name(), counts.get(table)) != null) {
            return;
        }
        affected.stream()
                .map(Samples.Affected::effect)
                .filter(effect -> effect.rule() == Rule.CASCADE)
                .map(Effect::link)
                .filter(link -> link.parent().equals(table))
                .forEach(link -> name(link.child(), byName));
    }

    private void count(Table table, ChildCounts children) {
        fingerprint.add(rules.isMarked(table) ? "mark" : "delete", table.schema(), table.storedName());
        if (children.uncounted().contains(table)) {
            counts.put(table, 0L);
            return;
        }
        RecordStore.Tally going = children.ofGoing(table);
        addToFingerprint(table, going);
        if (going.count() > 0) {
            counts.put(table, going.count());
        }
    }

    private void judge(LinkCase way, ChildCounts children) {
        LinkRule rule = way.rule();
        Link link = rule.link();
        if (rule.rule() == Rule.CASCADE) {
            addCascade(way, children.uncounted().contains(link.child()));
            return;
        }
        RecordStore.Tally tally = children.ofStaying(way);
        Condition staying = children.staying(way);
        if (tally.count() == 0) {
            return;
        }
        Optional<Key> newParent = rule.rule() == Rule.REASSIGN ? newParents.of(rule) : Optional.empty();
        fingerprint
                .add(rule.rule(), link.where())
                .addAll(newParent.map(key -> RecordKey.of(key).storable()).orElse(List.of()));
        addToFingerprint(link.child(), tally);
        if (rule.rule() == Rule.BLOCK || (rule.rule() == Rule.REASSIGN && newParent.isEmpty())) {
            block(rule, tally.count(), staying);
            return;
        }
        add(new Effect(link, rule.rule(), newParent, tally.count(), List.of()), staying);
        step(rule, newParent, staying, tally.count()).ifPresent(steps::add);
    }

    private void add(Effect effect, Condition children) {
        affected.add(new Samples.Affected(effect, children));
    }

    private void block(LinkRule rule, long count, Condition children) {
        Link link = rule.link();
        String reason = rule.rule() == Rule.BLOCK
                ? rule.reason()
                : "nobody is named to take " + (count == 1 ? "it" : "them") + " over; reassign " + link.where()
                        + " to another " + link.parent();
        // A run that leaves blocked records out tells them with the names of the plan that was agreed to.
        boolean named = !store.purpose().isLocking() || !tracing;
        Blocker blocker = new Blocker(link, reason, count, named ? samples.blocking(link, children) : List.of());
        blockers.add(blocker);
        if (tracing) {
            blockedRoots.add(blocker, children);
        }
    }

    private Optional<Step> step(LinkRule rule, Optional<Key> newParent, Condition staying, long count) {
        Table table = rule.link().child();
        List<Column> columns = rule.link().childColumns();
        return switch (rule.rule()) {
            case DETACH ->
                Optional.of(new Step.Detach(
                        table, CatalogLink.of(rule.link()).emptied(), rule.takesElement(), staying, count));
            case RESET -> Optional.of(new Step.Reset(table, columns, staying, count));
            case REASSIGN ->
                newParents
                        .reference(newParent.orElseThrow(), rule.link())
                        .map(reference -> new Step.Reassign(table, columns, reference, staying, count));
            case CASCADE, PART_OF, BLOCK, KEEP -> Optional.empty();
        };
    }

    /** Of two halves of a record the one that was reached first is told to take the other along. */
    private boolean isToldTheOtherWay(Link link) {
        List<Table> reached = List.copyOf(sets.tables());
        boolean isHalf = CatalogLink.of(link).isMirror()
                || catalog.linksTo(link.child()).stream()
                        .anyMatch(other -> CatalogLink.of(other).isMirror()
                                && other.equals(CatalogLink.of(link).mirrored()));
        return isHalf && reached.indexOf(link.child()) < reached.indexOf(link.parent());
    }

    private void addCascade(LinkCase way, boolean uncounted) {
        Link link = way.rule().link();
        if (isToldTheOtherWay(link)) {
            return;
        }
        Condition children = way.among(sets.childrenOn(link));
        long count = sets.isUnread(link.child()) && !uncounted
                ? countOfUnread(link, children)
                : sets.of(link.child()).reachedOver(way);
        if (count > 0 || uncounted) {
            add(new Effect(link, Rule.CASCADE, Optional.empty(), count, List.of()), children);
        }
    }

    /** An unread table under one parent has been counted as a whole already. */
    private long countOfUnread(Link link, Condition children) {
        return sets.condition(link.child()).orElseThrow().equals(children)
                ? counts.getOrDefault(link.child(), 0L)
                : store.count(link.child(), children);
    }

    /** A table that never stands still would make every approval stale; its records are told exactly by the outcome. */
    private void addToFingerprint(Table table, RecordStore.Tally tally) {
        if (!ignored.ignores(table)) {
            fingerprint.add(tally.count(), tally.identifying());
        }
    }
}
