package dev.vacancy.internal.planning;

import dev.vacancy.Blocker;
import dev.vacancy.Effect;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.store.RecordStore;
import dev.vacancy.internal.store.Records;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;

/** Reads the few records by which a plan shows what it does, and who forbids it. */
final class Samples {
    private static final int SAMPLES = 3;
    private static final int BLOCKERS_NAMED = 5;
    private static final int MOST_IN_ORDER = 10_000;

    private final RecordSets sets;
    private final Records records;

    Samples(RecordSets sets, Records records) {
        this.sets = sets;
        this.records = records;
    }

    /**
     * An effect and the children that it has.
     *
     * @param effect the effect, without samples
     * @param children picks them
     */
    record Affected(Effect effect, Condition children) {
        private Effect with(List<Map<Column, Object>> samples, Records records) {
            return new Effect(
                    effect.link(),
                    effect.rule(),
                    effect.newParent(),
                    effect.count(),
                    samples.stream()
                            .map(values -> records.sample(effect.link().child(), values))
                            .toList());
        }
    }

    /** Shows a few children of each effect, all asked for at once. */
    List<Effect> of(List<Affected> effects) {
        List<RecordStore.First> wanted = new ArrayList<>();
        for (Affected affected : effects) {
            Link link = affected.effect().link();
            boolean inOrder = affected.effect().count() <= MOST_IN_ORDER;
            wanted.add(new RecordStore.First(
                    SAMPLES, inOrder, link.child(), records.shown(link.child()), affected.children()));
        }
        List<List<Map<Column, Object>>> samples = sets.store().first(wanted);
        return IntStream.range(0, effects.size())
                .mapToObj(i -> effects.get(i).with(samples.get(i), records))
                .toList();
    }

    /** Names the first few children that forbid a deletion, each with the way to it. */
    List<Blocker.Child> blocking(Link link, Condition children) {
        List<Map<Column, Object>> first = firstOf(link, BLOCKERS_NAMED, children);
        List<List<String>> ways = sets.waysTo(link, Records.traces(link, first));
        return IntStream.range(0, first.size())
                .mapToObj(i -> new Blocker.Child(link.child(), records.sample(link.child(), first.get(i)), ways.get(i)))
                .toList();
    }

    /** The first few children on a link, with what they are shown by and their foreign keys. */
    List<Map<Column, Object>> firstOf(Link link, int most, Condition children) {
        return sets.store()
                .first(List.of(new RecordStore.First(most, true, link.child(), records.traced(link), children)))
                .get(0);
    }

    /** A child as it is shown, without the way to it. */
    Blocker.Child child(Link link, Map<Column, Object> values) {
        return new Blocker.Child(link.child(), records.sample(link.child(), values), List.of());
    }
}
