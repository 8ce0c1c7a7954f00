package dev.vacancy.documents.internal;

import dev.vacancy.internal.condition.Condition;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * How documents that meet a condition are found.
 *
 * @param own what the server tells by the documents themselves
 * @param parents the parents from which is gone down to them; empty if they are found by themselves
 * @param further what is looked at for those that were found
 */
record Parts(Condition own, Optional<ToParents> parents, List<Condition> further) {
    static Parts of(Condition condition) {
        List<Condition> own = new ArrayList<>();
        List<Condition> others = new ArrayList<>();
        collect(condition, own, others);
        boolean narrow = own.stream().anyMatch(Parts::isNarrow);
        Optional<Condition> down = narrow
                ? Optional.empty()
                : others.stream().filter(part -> ToParents.of(part).isPresent()).findFirst();
        down.ifPresent(others::remove);
        Condition both = own.isEmpty() ? new Condition.Any() : new Condition.AllOf(own);
        return new Parts(both, down.flatMap(ToParents::of), others);
    }

    private static void collect(Condition condition, List<Condition> own, List<Condition> others) {
        if (condition instanceof Condition.AllOf all) {
            all.parts().forEach(part -> collect(part, own, others));
        } else if (Filters.of(condition).isPresent()) {
            own.add(condition);
        } else {
            others.add(condition);
        }
    }

    /** Whether it names the documents, or what they refer to, so that there are few. */
    private static boolean isNarrow(Condition condition) {
        return condition instanceof Condition.Among
                || condition instanceof Condition.Referring
                || condition instanceof Condition.OneOf
                || condition instanceof Condition.Means;
    }

    /** What else has to be looked for by its alternatives, as nothing leads to the documents that meet one. */
    Optional<Condition.AnyOf> alternatives() {
        boolean led = parents.isPresent()
                || (own instanceof Condition.AllOf all && all.parts().stream().anyMatch(Parts::isNarrow));
        return led
                ? Optional.empty()
                : further.stream()
                        .filter(Condition.AnyOf.class::isInstance)
                        .map(Condition.AnyOf.class::cast)
                        .findFirst();
    }

    /** All other parts. */
    List<Condition> without(Condition part) {
        List<Condition> others = new ArrayList<>(further);
        others.remove(part);
        others.add(own);
        return others;
    }

    /** Whether a document that has several values at a path may be found more than once. */
    boolean mayRepeat() {
        return parents.map(down -> down.link().childColumns().stream().anyMatch(Portions::isSeveralTimes))
                .orElseGet(() -> Portions.mayRepeat(own));
    }
}
