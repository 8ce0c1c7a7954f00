package dev.vacancy.history;

import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Proposal;
import dev.vacancy.internal.restoring.PlannedRestore;
import dev.vacancy.rule.Consent;
import dev.vacancy.wording.Wording;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/**
 * What undoing a run would do.
 *
 * @since 0.1
 */
public sealed interface RestorePlan extends Proposal permits PlannedRestore {
    /** {@return the run; of a bulk run the last of its chunks} */
    TrailRun run();

    /** {@return the id of what is undone, that of the bulk run if all of it is} */
    UUID undone();

    /** {@return the record that comes back with what went with it, table and key; empty for all of the run} */
    Optional<String> only();

    /** {@return who wants it undone, and why} */
    @Override
    By by();

    /** {@return when the plan was made} */
    @Override
    Instant madeAt();

    /** {@return how many records would come back, by table, parents first} */
    @Override
    Map<String, Long> counts();

    /** {@return how many foreign keys would be put back, by link} */
    Map<String, Long> putBack();

    /** {@return what stays as it is since somebody changed it meanwhile, each a sentence} */
    List<String> left();

    /** {@return what stands in the way; of more than {@value #MOST_CONFLICTS} only the first ones} */
    List<Conflict> conflicts();

    /** {@return whether others see all of it at once, or nothing; false where no transaction holds it, as on documents} */
    boolean transactional();

    /** {@return the digest of what it would do, 64 hexadecimal digits} */
    @Override
    String fingerprint();

    /** How many conflicts a plan names. */
    int MOST_CONFLICTS = 1_000;

    /**
     * Tells whether nothing would change.
     *
     * @return true if there is nothing to bring back
     */
    default boolean isEmpty() {
        return counts().isEmpty() && putBack().isEmpty();
    }

    /** {@return a yes, always} */
    @Override
    default Consent consent() {
        return Consent.YES;
    }

    /** {@return whether something stands in the way} */
    @Override
    default boolean isBlocked() {
        return !conflicts().isEmpty();
    }

    @Override
    default void refuseBlocked() {
        if (isBlocked()) {
            Conflict first = conflicts().get(0);
            throw new InvalidRequestException(
                    FailureCode.CONFLICT,
                    "Run " + run().runId() + " can't be undone: " + first.table() + " " + first.key() + ": "
                            + first.reason()
                            + (conflicts().size() > 1 ? "; and " + (conflicts().size() - 1) + " more conflicts." : "."),
                    first.remedy());
        }
    }

    @Override
    default String subject() {
        return run().table();
    }

    @Override
    default Map<String, Long> changes() {
        return putBack();
    }

    @Override
    default String question(Wording words) {
        long links = putBack().values().stream().mapToLong(Long::longValue).sum();
        String key = total() == 0 ? "restore.links" : links == 0 ? "restore" : "restore.and-links";
        String question = words.text(key, total(), run().by().actor(), links);
        return transactional() ? question : question + " " + words.text("question.seen");
    }
}
