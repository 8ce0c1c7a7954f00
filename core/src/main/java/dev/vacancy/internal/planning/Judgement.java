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
import dev.vacancy.rule.Rule;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;

/**
 * Judges the children of the records that go, once that set is final: which go, which stay and how, which forbid it. A
 * child that goes anyway forbids nothing.
 */
final class Judgement {
    private static final int SAMPLES = 3;
    private static final int BLOCKERS_NAMED = 5;
    private static final int MOST_IN_ORDER = 10_000;

    private final DatabaseCatalog catalog;
    private final Rules rules;
    private final IgnoredChanges ignored;
    private final NewParents newParents;
    private final Lookup lookup;
    private final Gathering gathering;
    private final Records records;
    private final boolean tracing;
    private final BlockedRoots blockedRoots;
    private final Fingerprint fingerprint = new Fingerprint();
    private final Map<Table, Long> counts = new LinkedHashMap<>();

    private final List<Effect> effects = new ArrayList<>();

    /** Picks the children of each effect, in the same order. */
    private final List<Condition> affected = new ArrayList<>();

    private final List<Blocker> blockers = new ArrayList<>();
    private final List<Step> steps = new ArrayList<>();
    private final List<String> warnings = new ArrayList<>();

    /**
     * Judges nothing yet.
     *
     * @param clock tells the moment
     * @param requested the parents that the request names to take over children
     * @param tracing whether it matters which of the selected records each blocker belongs to
     */
    Judgement(Rules rules, Clock clock, Map<Link, Key> requested, Lookup lookup, Gathering gathering, boolean tracing) {
        this.rules = rules;
        this.catalog = rules.catalog();
        this.ignored = rules.ignored();
        this.records = new Records(catalog);
        this.tracing = tracing;
        this.blockedRoots = new BlockedRoots(gathering, lookup, records);
        this.lookup = lookup;
        this.gathering = gathering;
        this.newParents = new NewParents(rules, clock, requested, lookup, gathering);
    }

    /** Why the request can't be planned as it stands, unless it is because of something that is left out yet. */
    Optional<InvalidRequestException> refusal() {
        return newParents.refusal();
    }

    /** Who blocks each of the selected records that can't go. */
    Map<Key, List<Blocker>> blockedRoots() {
        Map<Key, List<Blocker>> byKey = new LinkedHashMap<>();
        blockedRoots.byRoot().forEach((root, blocking) -> byKey.put(root.key(), blocking));
        return byKey;
    }

    Consequences consequences(Table root, Roots roots, List<Skipped> skipped) {
        fingerprint.add("root", root.schema(), root.storedName());
        KeyDigest contents = roots.contents();
        fingerprint.add(contents.count(), contents.hex());
        skipped.forEach(left -> fingerprint
                .add("skipped")
                .addAll(RecordKey.of(left.root().key()).storable()));
        List<Link> links = gathering.tables().stream()
                .flatMap(going -> catalog.linksTo(going).stream())
                .toList();
        ChildCounts tallies = new ChildCounts(gathering, lookup, links);
        gathering.tables().forEach(table -> count(table, tallies));
        links.stream().flatMap(link -> gathering.casesOf(link).stream()).forEach(way -> judge(way, tallies));
        StepOrder order = new StepOrder(rules, gathering, lookup, counts, tallies.uncounted());
        List<Step.Touch> touches = new LastChangeUpdates(rules, gathering, lookup).of(counts.keySet());
        if (blockers.isEmpty() && lookup.isToBeDone()) {
            // Those who are touched are told by their children, which must still be active.
            steps.addAll(0, touches);
            steps.addAll(order.steps());
        }
        steps.forEach(step -> fingerprint.add(step.attempt(), ignored.ignores(step.table()) ? "" : step.count()));
        if (!lookup.locking()) {
            catalog.links().stream()
                    .filter(link -> CatalogLink.of(link).sharesKey())
                    .forEach(this::warnOfHalves);
        }
        Map<String, Long> byName = new LinkedHashMap<>();
        name(root, byName);
        return new Consequences(
                byName,
                withSamples(),
                blockers,
                warnings,
                blockers.isEmpty() && lookup.isToBeDone() ? steps : List.of(),
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
    private void warnOfHalves(Link link) {
        long going = counts.getOrDefault(link.child(), 0L);
        if (going == 0) {
            return;
        }
        long halves = gathering
                .condition(link.parent())
                .<Condition>map(parents -> new Condition.OfParent(link, parents))
                .map(whole -> lookup.count(
                        link.child(),
                        new Condition.AllOf(
                                List.of(gathering.condition(link.child()).orElseThrow(), new Condition.Except(whole)))))
                .orElse(going);
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

    /** Puts the counts into the order of the tree: a table, then what hangs on it. */
    private void name(Table table, Map<String, Long> byName) {
        if (!counts.containsKey(table) || byName.putIfAbsent(table.name(), counts.get(table)) != null) {
            return;
        }
        effects.stream()
                .filter(effect -> effect.rule() == Rule.CASCADE)
                .map(Effect::link)
                .filter(link -> link.parent().equals(table))
                .forEach(link -> name(link.child(), byName));
    }

    private void count(Table table, ChildCounts tallies) {
        fingerprint.add(rules.isMarked(table) ? "mark" : "delete", table.schema(), table.storedName());
        if (tallies.uncounted().contains(table)) {
            counts.put(table, 0L);
            return;
        }
        long count;
        Optional<KeyDigest> unread = gathering.digestOf(table);
        if (gathering.countOf(table).isPresent()) {
            count = gathering.countOf(table).get();
            fingerprint.add(count);
        } else if (unread.isPresent()) {
            count = unread.get().count();
            if (!ignored.ignores(table)) {
                fingerprint.add(count, unread.get().hex());
            }
        } else if (gathering.isUnread(table)) {
            Lookup.Tally tally = tallies.ofLeaf(table);
            addToFingerprint(table, tally);
            count = tally.count();
        } else {
            Collection<RecordsToDelete.Member> members =
                    gathering.recordsOf(table).members();
            if (!ignored.ignores(table)) {
                KeyDigest keys = new KeyDigest();
                members.forEach(member -> keys.add(member.key()));
                fingerprint.add(members.size(), keys.hex());
            }
            count = members.size();
        }
        if (count > 0) {
            counts.put(table, count);
        }
    }

    private void judge(LinkCase way, ChildCounts tallies) {
        LinkRule rule = way.rule();
        Link link = rule.link();
        if (rule.rule() == Rule.CASCADE) {
            addCascade(
                    way,
                    way.among(gathering.childrenOn(link)),
                    tallies.uncounted().contains(link.child()));
            return;
        }
        Lookup.Tally tally = tallies.ofStaying(way);
        Condition staying = tallies.staying(way);
        if (tally.count() == 0) {
            return;
        }
        Optional<Key> newParent = rule.rule() == Rule.REASSIGN ? newParents.of(rule) : Optional.empty();
        fingerprint
                .add(rule.rule(), link.where())
                .addAll(newParent.map(key -> RecordKey.of(key).storable()).orElse(List.of()));
        addToFingerprint(link.child(), tally);
        if (rule.rule() == Rule.BLOCK || (rule.rule() == Rule.REASSIGN && newParent.isEmpty())) {
            String reason = rule.rule() == Rule.BLOCK
                    ? rule.reason()
                    : "nobody is named to take " + (tally.count() == 1 ? "it" : "them") + " over; reassign "
                            + link.where() + " to another " + link.parent();
            Blocker blocker = new Blocker(link, reason, tally.count(), blocking(link, staying));
            blockers.add(blocker);
            if (tracing) {
                blockedRoots.add(blocker, staying);
            }
            return;
        }
        effects.add(new Effect(link, rule.rule(), newParent, tally.count(), List.of()));
        affected.add(staying);
        step(rule, newParent, staying, tally.count()).ifPresent(steps::add);
    }

    private Optional<Step> step(LinkRule rule, Optional<Key> newParent, Condition staying, long count) {
        Table table = rule.link().child();
        List<Column> columns = rule.link().childColumns();
        return switch (rule.rule()) {
            case DETACH ->
                Optional.of(new Step.Detach(table, CatalogLink.of(rule.link()).emptied(), staying, count));
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
        List<Table> reached = List.copyOf(gathering.tables());
        boolean isHalf = CatalogLink.of(link).isMirror()
                || catalog.linksTo(link.child()).stream()
                        .anyMatch(other -> CatalogLink.of(other).isMirror()
                                && other.equals(CatalogLink.of(link).mirrored()));
        return isHalf && reached.indexOf(link.child()) < reached.indexOf(link.parent());
    }

    private void addCascade(LinkCase way, Condition children, boolean uncounted) {
        Link link = way.rule().link();
        if (isToldTheOtherWay(link)) {
            return;
        }
        long count = gathering.isUnread(link.child()) && !uncounted
                ? countOfUnread(link, children)
                : gathering.reachedOver(way);
        if (count > 0 || uncounted) {
            effects.add(new Effect(link, Rule.CASCADE, Optional.empty(), count, List.of()));
            affected.add(children);
        }
    }

    /** An unread table under one parent has been counted as a whole already. */
    private long countOfUnread(Link link, Condition children) {
        return gathering.condition(link.child()).orElseThrow().equals(children)
                ? counts.getOrDefault(link.child(), 0L)
                : lookup.count(link.child(), children);
    }

    /** Asks for a few children of each effect, all at once. */
    private List<Effect> withSamples() {
        if (lookup.locking()) {
            return effects;
        }
        List<Lookup.First> wanted = new ArrayList<>();
        for (int i = 0; i < effects.size(); i++) {
            Table table = effects.get(i).link().child();
            boolean inOrder = effects.get(i).count() <= MOST_IN_ORDER;
            wanted.add(new Lookup.First(SAMPLES, inOrder, table, records.shown(table), affected.get(i)));
        }
        List<List<Map<Column, Object>>> samples = lookup.first(wanted);
        return IntStream.range(0, effects.size())
                .mapToObj(i -> withSamples(effects.get(i), samples.get(i)))
                .toList();
    }

    private Effect withSamples(Effect effect, List<Map<Column, Object>> children) {
        return new Effect(
                effect.link(),
                effect.rule(),
                effect.newParent(),
                effect.count(),
                children.stream()
                        .map(values -> records.sample(effect.link().child(), values))
                        .toList());
    }

    /** A run that leaves blocked records out tells them with the names of the plan that was agreed to. */
    private List<Blocker.Child> blocking(Link link, Condition staying) {
        if (lookup.locking() && tracing) {
            return List.of();
        }
        List<Map<Column, Object>> children =
                lookup.firstOf(new Lookup.First(BLOCKERS_NAMED, true, link.child(), records.traced(link), staying));
        List<List<String>> ways = gathering.waysTo(link, Records.traces(link, children));
        return IntStream.range(0, children.size())
                .mapToObj(i ->
                        new Blocker.Child(link.child(), records.sample(link.child(), children.get(i)), ways.get(i)))
                .toList();
    }

    /** A table that never stands still would make every approval stale; its records are told exactly by the outcome. */
    private void addToFingerprint(Table table, Lookup.Tally tally) {
        if (!ignored.ignores(table)) {
            fingerprint.add(tally.count(), tally.edges());
        }
    }
}
