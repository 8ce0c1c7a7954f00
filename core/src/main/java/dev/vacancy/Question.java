package dev.vacancy;

import static java.util.Objects.requireNonNull;

import dev.vacancy.catalog.Key;
import dev.vacancy.internal.request.LinkWords;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.Rule;
import dev.vacancy.wording.Wording;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * What a person is asked about a plan of any kind. Every answer but a clear yes is a no.
 *
 * <p>It is immutable.
 *
 * @since 0.1
 */
public final class Question {
    private final Approval ifYes;
    private final Wording wording;
    private final Function<Wording, String> asking;

    private Question(Approval ifYes, Wording wording, Function<Wording, String> asking) {
        this.ifYes = ifYes;
        this.wording = wording;
        this.asking = asking;
    }

    /**
     * Puts the question about a plan.
     *
     * @param plan a deletion, the emptying of a table, a restore, or an erasure from the trail
     * @return the question
     * @throws dev.vacancy.BlockedException when records forbid the deletion, so that there is nothing to ask
     * @throws dev.vacancy.InvalidRequestException when something stands in the way of a restore
     */
    public static Question about(Proposal plan) {
        requireNonNull(plan, "plan");
        return of(plan, Mode.AT_ONCE, plan::question);
    }

    /**
     * Puts the question about a deletion in chunks, each of which is committed by itself. Blocked records don't forbid it: they are
     * left out.
     *
     * @param plan the plan of the whole
     * @return the question
     */
    public static Question aboutChunks(Plan plan) {
        requireNonNull(plan, "plan");
        return of(plan, Mode.IN_CHUNKS, words -> PlanWords.questionOfChunks(plan, words));
    }

    /**
     * Puts the question about a deletion that also removes what the audit trail holds of the record.
     *
     * @param plan the plan of a single record, for good
     * @return the question
     * @throws dev.vacancy.BlockedException when records forbid the deletion, so that there is nothing to ask
     */
    public static Question aboutErasing(Plan plan) {
        requireNonNull(plan, "plan");
        return of(plan, Mode.ERASING, words -> PlanWords.questionOfErasing(plan, words));
    }

    private static Question of(Proposal plan, Mode mode, Function<Wording, String> asking) {
        return new Question(Approval.given(plan, mode, plan.consent().and(Consent.YES)), Wording.english(), asking);
    }

    /**
     * Puts the same question in other words.
     *
     * @param words the words, in which yes is answered as well
     * @return the question
     */
    public Question worded(Wording words) {
        requireNonNull(words, "words");
        return new Question(ifYes, words, asking);
    }

    /**
     * Returns the question in words, with the number of all records that would go.
     *
     * @return such as {@code Delete hive 12 'Bramble Three' and 8,914 records that depend on it?}
     */
    public String text() {
        return asking.apply(wording);
    }

    /**
     * Returns what is asked about.
     *
     * @return the plan
     */
    public Proposal plan() {
        return ifYes.plan();
    }

    /**
     * Returns the way in which it would be carried out.
     *
     * @return the way
     */
    public Mode mode() {
        return ifYes.mode();
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
        Proposal plan = ifYes.plan();
        return switch (plan.consent()) {
            case NONE, YES -> Optional.empty();
            case NUMBER -> Optional.of(String.valueOf(plan.total()));
            case LABEL -> Optional.of(plan.label());
        };
    }

    /**
     * Returns what becomes of the records that stay.
     *
     * @return a line for each link whose children are changed, such as {@code 1 record of queen stays, detached}
     */
    public List<String> survivors() {
        return ifYes.plan() instanceof Plan plan
                ? plan.effects().stream()
                        .filter(effect -> effect.rule() != Rule.CASCADE)
                        .map(this::survivor)
                        .toList()
                : List.of();
    }

    /**
     * Says what forbids a plan, where there is nothing to ask.
     *
     * @param plan the plan
     * @param words the words
     * @return a line for each link whose children forbid it, and for each hold; none if the plan can be approved
     */
    public static List<String> obstacles(Plan plan, Wording words) {
        requireNonNull(plan, "plan");
        requireNonNull(words, "words");
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
    public Optional<Approval> answer(@Nullable String answer) {
        String said = answer == null ? "" : answer.strip();
        boolean agreed = switch (ifYes.plan().consent()) {
            case NONE, YES -> wording.words("answer.yes").contains(said.toLowerCase(Locale.ROOT));
            case NUMBER -> wording.isNumber(said, ifYes.plan().total());
            case LABEL -> said.equals(ifYes.plan().label());
        };
        return agreed ? Optional.of(ifYes) : Optional.empty();
    }

    /**
     * Takes a yes that was given in another way than by words: by a button, or by sending what was shown back.
     *
     * @return the approval
     * @throws InvalidRequestException when a yes is too little
     */
    public Approval yes() {
        if (typed().isPresent()) {
            throw new InvalidRequestException(
                    FailureCode.NOT_AGREED,
                    text() + " wants more than a yes.",
                    "Answer with '" + typed().get() + "' to do so.");
        }
        return ifYes;
    }

    @Override
    public String toString() {
        return text();
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
            case DETACH ->
                wording.text(
                        LinkWords.isOfDocuments(effect.link()) ? "change.detach.document" : "change.detach", where);
            case CASCADE, PART_OF, BLOCK, KEEP -> wording.text("change.none", where);
        };
    }
}
