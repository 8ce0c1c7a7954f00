package dev.vacancy.confirm;

import dev.vacancy.catalog.RecordContent;
import dev.vacancy.plan.Effect;
import dev.vacancy.plan.Plan;
import dev.vacancy.plan.Sample;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.Rule;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * What a person is asked about a plan. Every answer but a clear yes is a no.
 *
 * @since 0.1
 */
public final class Question {
    private final Approval ifYes;

    private Question(Approval ifYes) {
        this.ifYes = ifYes;
    }

    /**
     * Puts the question about a plan.
     *
     * @param plan the plan
     * @return the question
     * @throws BlockedException when records forbid the deletion, so that there is nothing to ask
     */
    public static Question about(Plan plan) {
        return new Question(Approval.of(plan));
    }

    /**
     * Returns the question in words, with the number of all records that would go.
     *
     * @return such as {@code Delete hive 12 'Bramble Three' and 8,914 records that depend on it?}
     */
    public String text() {
        Plan plan = ifYes.plan();
        return "Delete " + what(plan) + (plan.selection().isForGood() ? " for good" : "") + "?" + wayBack(plan);
    }

    /** That there is no way back is said; how there is one isn't part of the question. */
    static String wayBack(Plan plan) {
        if (plan.isReversible()) {
            return "";
        }
        return plan.marked().isEmpty()
                ? " There is no way back."
                : " There is no way back for those of " + gone(plan) + ".";
    }

    private static String gone(Plan plan) {
        return plan.counts().keySet().stream()
                .filter(table -> !plan.marked().contains(table))
                .collect(Collectors.joining(", "));
    }

    /** The records in question and those that depend on them, in words. */
    static String what(Plan plan) {
        long others = plan.total() - plan.selected();
        String what = plan.selected() == 1
                ? plan.table() + " " + Sample.of(plan.roots().get(0))
                : several(plan) + " of " + plan.table();
        String dependents = others == 0
                ? ""
                : " and " + roughly(plan) + number(others, "record")
                        + (others == 1 ? " that depends on " : " that depend on ")
                        + (plan.selected() == 1 ? "it" : "them");
        return what + dependents;
    }

    /** How many of how many, so that nobody takes the selection for the table. */
    private static String several(Plan plan) {
        if (plan.isOfWholeTable()) {
            return String.format(Locale.ROOT, "all %,d records", plan.selected());
        }
        return plan.ofTable().isPresent()
                ? String.format(
                        Locale.ROOT,
                        "%,d of the %,d records",
                        plan.selected(),
                        plan.ofTable().getAsLong())
                : number(plan.selected(), "record");
    }

    /**
     * Tells whether a person has to be asked at all, by the rules.
     *
     * @return false if the plan may be approved by the program
     */
    public boolean isDue() {
        return ifYes.plan().consent() != Consent.NONE;
    }

    /**
     * Returns what the answer must be, where a yes is too little: the number of all records that would go, or the label of the
     * one that is selected.
     *
     * @return what to type, a number as plain digits; empty where the answer is yes or no
     */
    public Optional<String> typed() {
        return typed(ifYes.plan());
    }

    static Optional<String> typed(Plan plan) {
        return switch (plan.consent()) {
            case NONE, YES -> Optional.empty();
            case NUMBER -> Optional.of(String.valueOf(plan.total()));
            case LABEL -> Optional.of(label(plan.roots().get(0)));
        };
    }

    /** A label that a person can type: in one line, or else the key. */
    private static String label(RecordContent root) {
        return root.label()
                .map(text -> text.replaceAll("[\\p{Cntrl}\\p{Space}]+", " ").strip())
                .filter(text -> !text.isEmpty())
                .orElseGet(() -> root.key().text());
    }

    /**
     * Returns what becomes of the records that stay.
     *
     * @return a line for each link whose children are changed, such as {@code 1 record of queen stays, detached}
     */
    public List<String> survivors() {
        return ifYes.plan().effects().stream()
                .filter(effect -> effect.rule() != Rule.CASCADE)
                .map(Question::survivor)
                .toList();
    }

    /**
     * Takes the answer.
     *
     * @param answer what the person said; null stands for no answer
     * @return the approval if it was yes or y, in any case and with blanks around it, or what {@link #typed()} asks for, a number
     *     with commas or without; otherwise nothing
     */
    public Optional<Approval> answer(String answer) {
        return isYes(answer, ifYes.plan()) ? Optional.of(ifYes) : Optional.empty();
    }

    static boolean isYes(String answer, Plan plan) {
        String said = answer == null ? "" : answer.strip();
        String word = said.toLowerCase(Locale.ROOT);
        return switch (plan.consent()) {
            case NONE, YES -> word.equals("yes") || word.equals("y");
            case NUMBER -> word.replace(",", "").equals(String.valueOf(plan.total()));
            case LABEL -> said.equals(label(plan.roots().get(0)));
        };
    }

    @Override
    public String toString() {
        return text();
    }

    /** What never stands still can be more or fewer when it comes to it. */
    private static String roughly(Plan plan) {
        boolean drifting = plan.effects().stream()
                .anyMatch(effect -> effect.rule() == Rule.CASCADE
                        && plan.drift().isDrifting(effect.link().child()));
        return drifting ? "about " : "";
    }

    private static String survivor(Effect effect) {
        return number(effect.count(), "record") + " of " + effect.link().child() + " "
                + (effect.count() == 1 ? "stays" : "stay") + ": " + effect.change();
    }

    private static String number(long count, String noun) {
        return String.format(Locale.ROOT, "%,d %s", count, count == 1 ? noun : noun + "s");
    }
}
