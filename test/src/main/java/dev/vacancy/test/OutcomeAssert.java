package dev.vacancy.test;

import dev.vacancy.Outcome;
import java.util.Map;
import java.util.Set;

/**
 * Assertions about what a run did.
 *
 * @since 0.1
 */
public final class OutcomeAssert extends DeletionAssert<OutcomeAssert, Outcome> {
    OutcomeAssert(Outcome actual) {
        super(actual, OutcomeAssert.class);
    }

    @Override
    Map<String, Long> counts() {
        return actual.counts();
    }

    @Override
    Map<String, Long> changes() {
        return actual.changed();
    }

    @Override
    Set<String> markedTables() {
        return actual.marked();
    }

    @Override
    String shown() {
        return "deleted: " + actual.counts() + System.lineSeparator() + "marked: " + actual.marked()
                + System.lineSeparator() + "changed: " + actual.changed();
    }

    /**
     * Says that nothing that was selected was left out.
     *
     * @return this
     */
    public OutcomeAssert skipsNothing() {
        return expecting(actual.skipped().isEmpty(), "nothing to be left out");
    }

    /**
     * Says how many of the selected keys no record had.
     *
     * @param keys how many
     * @return this
     */
    public OutcomeAssert misses(int keys) {
        return expecting(actual.notFound().size() == keys, keys + " keys not to be found");
    }
}
