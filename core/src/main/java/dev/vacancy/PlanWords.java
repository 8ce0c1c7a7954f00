package dev.vacancy;

import dev.vacancy.rule.Rule;
import dev.vacancy.wording.Wording;
import java.util.stream.Collectors;

/**
 * The questions about a deletion, in words.
 *
 * @since 0.1
 */
final class PlanWords {
    private PlanWords() {}

    static String question(Plan plan, Wording wording) {
        return wording.text(plan.selection().isHard() ? "question.hard" : "question", what(plan, wording))
                + wayBack(plan, wording)
                + seen(plan, wording);
    }

    /** That there is no way back is said; how there is one isn't part of the question. */
    private static String wayBack(Plan plan, Wording wording) {
        if (plan.isReversible()) {
            return "";
        }
        return " "
                + (plan.marked().isEmpty()
                        ? wording.text("question.no-way-back")
                        : wording.text("question.no-way-back.of", gone(plan)));
    }

    /** Where nobody sees a deletion by half, nothing has to be said. */
    private static String seen(Plan plan, Wording wording) {
        return plan.transactional() ? "" : " " + wording.text("question.seen");
    }

    private static String gone(Plan plan) {
        return plan.counts().keySet().stream()
                .filter(table -> !plan.marked().contains(table))
                .collect(Collectors.joining(", "));
    }

    /** The records in question and those that depend on them, in words. */
    private static String what(Plan plan, Wording wording) {
        long others = plan.total() - plan.selected();
        String selected = selected(plan, wording);
        return others == 0
                ? selected
                : wording.text(
                        ignores(plan) ? "records.dependents.about" : "records.dependents",
                        selected,
                        plan.selected(),
                        others);
    }

    /** How many of how many, so that nobody takes the selection for the table. */
    private static String selected(Plan plan, Wording wording) {
        String table = plan.table().name();
        if (plan.selected() == 1) {
            return wording.text(
                    "records.one", table, Sample.of(plan.roots().get(0)).toString());
        }
        if (plan.isOfWholeTable()) {
            return wording.text("records.all", table, plan.selected());
        }
        return plan.ofTable().isPresent()
                ? wording.text(
                        "records.some-of",
                        table,
                        plan.selected(),
                        plan.ofTable().getAsLong())
                : wording.text("records.some", table, plan.selected());
    }

    /**
     * Puts the question about a deletion in chunks.
     *
     * @param plan the plan of the whole
     * @param wording the words
     * @return the question
     */
    public static String questionOfChunks(Plan plan, Wording wording) {
        String key = plan.blockers().isEmpty() ? "question.chunks" : "question.chunks.as-far";
        return wording.text(key, what(plan, wording)) + wayBack(plan, wording);
    }

    /**
     * Puts the question about a deletion that also removes what the audit trail holds of the record.
     *
     * @param plan the plan
     * @param wording the words
     * @return the question
     */
    public static String questionOfErasing(Plan plan, Wording wording) {
        return wording.text("question.hard", what(plan, wording)) + " " + wording.text("question.erasing") + " "
                + wording.text("question.no-way-back")
                + seen(plan, wording);
    }

    /** What never stands still can be more or fewer when it comes to it. */
    private static boolean ignores(Plan plan) {
        return plan.effects().stream()
                .anyMatch(effect -> effect.rule() == Rule.CASCADE
                        && plan.ignoredChanges().contains(effect.link().child().name()));
    }
}
