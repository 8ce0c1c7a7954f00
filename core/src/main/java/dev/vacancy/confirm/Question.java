package dev.vacancy.confirm;

import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.plan.Effect;
import dev.vacancy.plan.Plan;
import dev.vacancy.plan.Sample;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.Rule;
import dev.vacancy.wording.Wording;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * What a person is asked about a plan. Every answer but a clear yes is a no.
 *
 * @since 0.1
 */
public final class Question {
    private final Approval ifYes;
    private final Wording wording;

    private Question(Approval ifYes, Wording wording) {
        this.ifYes = ifYes;
        this.wording = wording;
    }

    /**
     * Puts the question about a plan.
     *
     * @param plan the plan
     * @return the question
     * @throws BlockedException when records forbid the deletion, so that there is nothing to ask
     */
    public static Question about(Plan plan) {
        return new Question(Approval.of(plan), Wording.english());
    }

    /**
     * Puts the same question in other words.
     *
     * @param words the words, in which yes is answered as well
     * @return the question
     */
    public Question in(Wording words) {
        return new Question(ifYes, words);
    }

    /**
     * Returns the question in words, with the number of all records that would go.
     *
     * @return such as {@code Delete hive 12 'Bramble Three' and 8,914 records that depend on it?}
     */
    public String text() {
        Plan plan = ifYes.plan();
        return wording.text(plan.selection().isForGood() ? "question.for-good" : "question", what(plan, wording))
                + wayBack(plan, wording);
    }

    /** That there is no way back is said; how there is one isn't part of the question. */
    static String wayBack(Plan plan, Wording wording) {
        if (plan.isReversible()) {
            return "";
        }
        return " "
                + (plan.marked().isEmpty()
                        ? wording.text("question.no-way-back")
                        : wording.text("question.no-way-back.of", gone(plan)));
    }

    private static String gone(Plan plan) {
        return plan.counts().keySet().stream()
                .filter(table -> !plan.marked().contains(table))
                .collect(Collectors.joining(", "));
    }

    /** The records in question and those that depend on them, in words. */
    static String what(Plan plan, Wording wording) {
        long others = plan.total() - plan.selected();
        String selected = selected(plan, wording);
        return others == 0
                ? selected
                : wording.text(
                        isDrifting(plan) ? "records.dependents.about" : "records.dependents",
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
                .map(text -> Sample.plain(text).replaceAll("\\p{Space}+", " ").strip())
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
                .map(this::survivor)
                .toList();
    }

    /**
     * Says what forbids a plan, where there is nothing to ask.
     *
     * @param plan the plan
     * @param words the words
     * @return a line for each link whose children forbid it, and for each hold; none if the plan can be approved
     */
    public static List<String> obstacles(Plan plan, Wording words) {
        Stream<String> blockers = plan.blockers().stream()
                .map(blocker -> words.text(
                        "obstacles.blocker",
                        blocker.link().child().name(),
                        blocker.count(),
                        blocker.link().where(),
                        blocker.reason()));
        Stream<String> holds = plan.holds().stream()
                .map(held -> words.text("obstacles.hold", held.table(), held.count(), held.by(), held.reason()));
        return Stream.concat(blockers, holds).toList();
    }

    /**
     * Takes the answer.
     *
     * @param answer what the person said; null stands for no answer
     * @return the approval if it was yes or y, or the same in the words of the question, in any case and with blanks around it, or what
     *     {@link #typed()} asks for, a number with its digits in groups or without; otherwise nothing
     */
    public Optional<Approval> answer(String answer) {
        return isYes(answer, ifYes.plan(), wording) ? Optional.of(ifYes) : Optional.empty();
    }

    static boolean isYes(String answer, Plan plan, Wording wording) {
        String said = answer == null ? "" : answer.strip();
        return switch (plan.consent()) {
            case NONE, YES -> wording.words("answer.yes").contains(said.toLowerCase(Locale.ROOT));
            case NUMBER -> wording.isNumber(said, plan.total());
            case LABEL -> said.equals(label(plan.roots().get(0)));
        };
    }

    @Override
    public String toString() {
        return text();
    }

    /** What never stands still can be more or fewer when it comes to it. */
    private static boolean isDrifting(Plan plan) {
        return plan.effects().stream()
                .anyMatch(effect -> effect.rule() == Rule.CASCADE
                        && plan.drift().isDrifting(effect.link().child()));
    }

    private String survivor(Effect effect) {
        return wording.text("survivors", effect.link().child().name(), effect.count(), change(effect));
    }

    private String change(Effect effect) {
        String where = effect.link().where();
        return switch (effect.rule()) {
            case REASSIGN ->
                wording.text(
                        "change.reassign",
                        where,
                        effect.newParent().map(Key::text).orElse(""));
            case RESET -> wording.text("change.reset", where);
            case DETACH -> wording.text("change.detach", where);
            case CASCADE, PART_OF, BLOCK, KEEP -> wording.text("change.none", where);
        };
    }
}
