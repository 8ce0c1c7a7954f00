package dev.vacancy;

import static java.util.Objects.requireNonNull;

import dev.vacancy.rule.Consent;
import java.util.Optional;

/**
 * Proof that one plan was agreed to, in one way: on that database, by those rules, for that request, by that answer. It is looked at
 * once more under lock, and holds for nothing else. Immutable, and safe for use by many threads.
 *
 * @since 0.1
 */
public final class Approval {
    private final Proposal plan;
    private final Mode mode;
    private final Consent given;
    private final Optional<By> colleague;

    private Approval(Proposal plan, Mode mode, Consent given, Optional<By> colleague) {
        this.plan = plan;
        this.mode = mode;
        this.given = given;
        this.colleague = colleague;
    }

    /**
     * Approves a plan: a program decided, and nobody was asked. Where the rules say that a person is asked, the run refuses it; for a
     * person to decide, put a {@link Question}.
     *
     * @param plan a deletion, the emptying of a table, a restore, or an erasure from the trail
     * @return the approval
     * @throws dev.vacancy.BlockedException when records forbid the deletion
     * @throws InvalidRequestException when something stands in the way of a restore
     */
    public static Approval of(Proposal plan) {
        requireNonNull(plan, "plan");
        return given(plan, Mode.AT_ONCE, Consent.NONE);
    }

    /**
     * Approves a selection to be deleted in chunks, each by itself: a program decided. Blocked records are left out.
     *
     * @param plan the plan of the whole, blocked records among it
     * @return the approval, for a bulk run
     */
    public static Approval inChunks(Plan plan) {
        requireNonNull(plan, "plan");
        return given(plan, Mode.IN_CHUNKS, Consent.NONE);
    }

    /**
     * Approves a deletion that also removes what the audit trail holds of the record: a program decided.
     *
     * @param plan the plan of a single record, for good
     * @return the approval, for an erasure
     * @throws dev.vacancy.BlockedException when records forbid the deletion
     */
    public static Approval ofErasing(Plan plan) {
        requireNonNull(plan, "plan");
        return given(plan, Mode.ERASING, Consent.NONE);
    }

    static Approval given(Proposal plan, Mode mode, Consent consent) {
        if (mode != Mode.IN_CHUNKS) {
            plan.refuseBlocked();
        }
        plan.refuseMode(mode);
        return new Approval(plan, mode, consent, Optional.empty());
    }

    /**
     * Adds that a colleague agrees as well.
     *
     * @param other who
     * @return the approval of both
     * @throws InvalidRequestException when it is the one who asks
     */
    public Approval agreedBy(By other) {
        requireNonNull(other, "other");
        Colleague.require(plan.by(), other);
        return new Approval(plan, mode, given, Optional.of(other));
    }

    /**
     * Returns who agrees beside the one who asks.
     *
     * @return the colleague, or empty
     */
    public Optional<By> colleague() {
        return colleague;
    }

    /**
     * Returns what was agreed to.
     *
     * @return the plan
     */
    public Proposal plan() {
        return plan;
    }

    /**
     * Returns the way in which it may be carried out.
     *
     * @return the way
     */
    public Mode mode() {
        return mode;
    }

    /**
     * Returns what a person has given.
     *
     * @return what was answered; {@link Consent#NONE} where a program decided
     */
    public Consent given() {
        return given;
    }

    /**
     * Returns the fingerprint that what happens must have.
     *
     * @return the plan's fingerprint
     */
    public String fingerprint() {
        return plan.fingerprint();
    }

    @Override
    public String toString() {
        return "approved by " + plan.by().actor()
                + colleague.map(other -> " and " + other.actor()).orElse("") + ", " + mode + ": " + plan;
    }
}
