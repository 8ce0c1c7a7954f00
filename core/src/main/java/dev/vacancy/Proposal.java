package dev.vacancy;

import dev.vacancy.history.ErasurePlan;
import dev.vacancy.history.MaskingPlan;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.retirement.RetirementPlan;
import dev.vacancy.rule.Consent;
import dev.vacancy.trace.TracePlan;
import dev.vacancy.wording.Wording;
import java.time.Instant;
import java.util.Map;

/**
 * What somebody is asked to agree to: a plan of any kind. Each is asked about by the same questions, approved by the same approvals, and
 * looked at once more, under lock, before it is carried out.
 *
 * @since 0.1
 */
public sealed interface Proposal
        permits Plan, EmptyingPlan, RestorePlan, ErasurePlan, MaskingPlan, TracePlan, RetirementPlan {
    /** {@return who wants it, and why} */
    By by();

    /** {@return when the plan was made} */
    Instant madeAt();

    /** {@return how many records of each table go, or come back} */
    Map<String, Long> counts();

    /** {@return how many records go, or come back, in all: 0 or more} */
    default long total() {
        return counts().values().stream().mapToLong(Long::longValue).sum();
    }

    /** {@return what a person who is asked has to give} */
    Consent consent();

    /** {@return what a person has to have given by the application's own rules; nothing where a program may decide} */
    Consent demanded();

    /** {@return whether somebody else has to agree as well, by the rules} */
    boolean colleague();

    /** {@return what a person types where the rules ask for a label} */
    default String label() {
        return String.valueOf(total());
    }

    /** {@return whether something forbids it, so that it can't be approved} */
    boolean isBlocked();

    /**
     * Refuses what can't be approved.
     *
     * @throws BlockedException when records or holds forbid a deletion
     * @throws dev.vacancy.InvalidRequestException when something stands in the way of a restore
     */
    void refuseBlocked();

    /**
     * Refuses a way in which it can't be carried out.
     *
     * @param mode the way
     * @throws dev.vacancy.InvalidRequestException when records lie on other servers, which nothing but chunks can deal with
     */
    default void refuseMode(Mode mode) {
        // Most can be done in each way in which they can be asked for.
    }

    /** {@return the name of the table that it is about: of the records that were selected, or whose deletion is undone} */
    String subject();

    /** {@return how many records stay with another foreign key, by link} */
    default Map<String, Long> changes() {
        return Map.of();
    }

    /**
     * Puts the question about it in words.
     *
     * @param words the words
     * @return such as {@code Delete hive 12 'Bramble Three' and 8,914 records that depend on it?}
     */
    String question(Wording words);

    /** {@return the digest of what would be done, 64 hexadecimal digits, SHA-256 (FIPS 180-4)} */
    String fingerprint();
}
