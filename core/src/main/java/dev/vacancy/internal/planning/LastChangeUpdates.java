package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.rules.Rules;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Finds the parents of records that are marked, where it is kept who changed them last. */
final class LastChangeUpdates {
    private final Rules rules;
    private final RecordSets sets;

    LastChangeUpdates(Rules rules, RecordSets sets) {
        this.rules = rules;
        this.sets = sets;
    }

    /**
     * Returns what is written on the parents that stay.
     *
     * @param going the tables that lose records
     */
    List<Step.Touch> of(Collection<Table> going) {
        Map<Table, List<Condition>> parents = new LinkedHashMap<>();
        for (Table child : going) {
            if (rules.isMarked(child)) {
                Condition marked = sets.condition(child).orElseThrow();
                for (Link link : rules.catalog().linksFrom(child)) {
                    if (rules.softness().modified().containsKey(link.parent())) {
                        parents.computeIfAbsent(link.parent(), missing -> new ArrayList<>())
                                .add(new Condition.OfChildren(link, marked));
                    }
                }
            }
        }
        List<Step.Touch> touches = new ArrayList<>();
        parents.forEach((table, ofChildren) -> {
            Condition condition =
                    sets.staying(table, Condition.anyOf(ofChildren).orElseThrow());
            long count = sets.store().count(table, condition);
            if (count > 0) {
                touches.add(new Step.Touch(table, condition, count));
            }
        });
        return touches;
    }
}
