package dev.vacancy.internal.running;

import java.time.Instant;
import java.util.Optional;

/**
 * Where it is kept which approvals were redeemed, and what came of each.
 *
 * <p>Safe for use by many threads.
 *
 * @since 0.1
 */
public interface RedeemedApprovals {
    /**
     * Sees to it that it can be kept.
     *
     * @throws dev.vacancy.InvalidRequestException when what it takes isn't there
     */
    void require();

    /**
     * Looks for what came of an approval.
     *
     * @param approval the id of the approval
     * @return what came of it; empty if nothing has, or has yet
     */
    Optional<StoredReceipt> find(String approval);

    /**
     * Forgets what nobody can send any more and needn't be kept.
     *
     * @param expiredBefore the approvals that ended before that
     */
    void forget(Instant expiredBefore);
}
