package dev.vacancy.plan;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Condition;
import dev.vacancy.rule.LinkRule;
import dev.vacancy.rule.Rule;
import dev.vacancy.rule.Rules;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Judges the children of the records that go, once that set is final: which go, which stay and how, which forbid it. A
 * child that goes anyway forbids nothing.
 */
final class Judgement {
    private static final int SAMPLES = 3;
    private static final int BLOCKERS_NAMED = 5;

    private final Catalog catalog;
    private final Rules rules;
    private final Lookup lookup;
    private final Gathering gathering;
    private final Fingerprint fingerprint = new Fingerprint();
    private final Map<Table, Long> counts = new LinkedHashMap<>();
    private final List<Effect> effects = new ArrayList<>();
    private final List<Blocker> blockers = new ArrayList<>();
    private final List<Step> steps = new ArrayList<>();

    Judgement(Catalog catalog, Rules rules, Lookup lookup, Gathering gathering) {
        this.catalog = catalog;
        this.rules = rules;
        this.lookup = lookup;
        this.gathering = gathering;
    }

    Plan.Consequences consequences(Table root) {
        fingerprint.add("root", root.schema(), root.storedName());
        gathering.tables().forEach(this::count);
        gathering.keyed().stream()
                .flatMap(going -> catalog.linksTo(going.table()).stream())
                .forEach(this::judge);
        steps.addAll(new StepOrder(catalog, gathering, counts)
                .steps(step -> lookup.tally(step.table(), step.criteria()).count()));
        steps.forEach(step -> fingerprint.add(step.attempt(), step.count()));
        Map<String, Long> byName = new LinkedHashMap<>();
        name(root, byName);
        return new Plan.Consequences(
                byName, effects, blockers, blockers.isEmpty() ? steps : List.of(), fingerprint.hex());
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

    private void count(Table table) {
        fingerprint.add("delete", table.schema(), table.storedName());
        long count;
        if (gathering.isLeaf(table)) {
            Lookup.Tally tally = lookup.tally(table, gathering.criteria(table).orElseThrow());
            addToFingerprint(tally);
            count = tally.count();
        } else {
            List<String> keys = gathering.going(table).members().stream()
                    .map(member -> member.key().text())
                    .sorted()
                    .toList();
            fingerprint.add(keys.size()).add(keys.toArray());
            count = keys.size();
        }
        if (count > 0) {
            counts.put(table, count);
        }
    }

    private void judge(Link link) {
        LinkRule rule = rules.of(link);
        if (rule.rule() == Rule.CASCADE) {
            addCascade(link);
            return;
        }
        Condition children = gathering.childrenOn(link);
        Condition staying = gathering
                .criteria(link.child())
                .<Condition>map(going -> new Condition.AllOf(List.of(children, new Condition.Not(going))))
                .orElse(children);
        Lookup.Tally tally = lookup.tally(link.child(), staying);
        if (tally.count() == 0) {
            return;
        }
        fingerprint.add(rule.rule(), link.where());
        addToFingerprint(tally);
        if (rule.rule() == Rule.BLOCK) {
            blockers.add(new Blocker(link, rule.reason(), tally.count(), blocking(link, staying)));
            return;
        }
        effects.add(new Effect(link, rule.rule(), tally.count(), samples(link.child(), staying)));
        List<Column> columns = link.childColumns();
        steps.add(
                rule.rule() == Rule.DETACH
                        ? new Step.Detach(link.child(), columns, staying, tally.count())
                        : new Step.Reset(link.child(), columns, staying, tally.count()));
    }

    private void addCascade(Link link) {
        Condition children = gathering.childrenOn(link);
        long count = gathering.isLeaf(link.child()) ? countOfLeaf(link, children) : gathering.reachedOver(link);
        if (count > 0) {
            effects.add(new Effect(link, Rule.CASCADE, count, samples(link.child(), children)));
        }
    }

    /** A leaf table under one parent has been counted as a whole already. */
    private long countOfLeaf(Link link, Condition children) {
        return gathering.criteria(link.child()).orElseThrow().equals(children)
                ? counts.getOrDefault(link.child(), 0L)
                : lookup.tally(link.child(), children).count();
    }

    private List<Sample> samples(Table table, Condition criteria) {
        if (lookup.locking()) {
            return List.of();
        }
        return lookup.first(SAMPLES, table, shown(table), criteria).stream()
                .map(values -> sample(table, values))
                .toList();
    }

    private List<Blocker.Child> blocking(Link link, Condition staying) {
        if (lookup.locking()) {
            return List.of();
        }
        Set<Column> columns = shown(link.child());
        columns.addAll(link.childColumns());
        return lookup.first(BLOCKERS_NAMED, link.child(), columns, staying).stream()
                .map(values -> new Blocker.Child(link.child(), sample(link.child(), values), way(link, values)))
                .toList();
    }

    private List<String> way(Link link, Map<Column, Object> child) {
        List<Object> foreignKey = link.childColumns().stream().map(child::get).toList();
        return gathering.parentOn(link, foreignKey).map(Going.Member::way).orElse(List.of());
    }

    /** What a record is shown by: its key and its label, or whatever there is. */
    private static Set<Column> shown(Table table) {
        Set<Column> columns = new LinkedHashSet<>(table.identity());
        columns.add(label(table));
        return columns;
    }

    private static Column label(Table table) {
        return table.label().orElseGet(() -> table.columns().get(0));
    }

    private static Sample sample(Table table, Map<Column, Object> values) {
        List<Column> identity = table.identity();
        Optional<Key> key = identity.isEmpty()
                ? Optional.empty()
                : Optional.of(
                        new Key(identity, identity.stream().map(values::get).toList()));
        boolean labelled = identity.isEmpty()
                || table.label().filter(label -> !identity.contains(label)).isPresent();
        return new Sample(
                key,
                Optional.ofNullable(labelled ? values.get(label(table)) : null).map(Object::toString));
    }

    private void addToFingerprint(Lookup.Tally tally) {
        fingerprint.add(
                tally.count(),
                tally.lowest().map(Key::text).orElse(""),
                tally.highest().map(Key::text).orElse(""));
    }
}
