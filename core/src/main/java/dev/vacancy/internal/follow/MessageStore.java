package dev.vacancy.internal.follow;

import dev.vacancy.followup.FollowUpMessage;
import dev.vacancy.followup.FollowUpState;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;

/**
 * Where messages wait until somebody has handled them, and where it is kept how far the trail was read for them. Each call is done whole or not at all.
 *
 * <p>Safe for use by many threads and processes.
 *
 * @since 0.1
 */
public interface MessageStore {
    /**
     * What somebody has taken.
     *
     * @param messages to be handled by nobody else for now
     * @param more whether the trail has told more than there was before
     */
    record Taken(List<FollowUpMessage> messages, boolean more) {}

    /**
     * Takes messages that are due, the first of each record, the oldest first. One worker takes after the other, so that they don't get into each other's
     * way; what is taken is handled by all of them at once. The trail is read on when all that it has told before is taken.
     *
     * @param name the follow-up
     * @param now what is due by then is taken
     * @param until nobody else takes them before then
     * @param most how many at most
     * @return the messages
     */
    Taken take(String name, Instant now, Instant until, int most);

    /**
     * Takes down the next few messages that the trail tells of.
     *
     * @param name the follow-up
     * @return whether there may be more
     */
    boolean readOn(String name);

    /**
     * Removes messages, as they were handled or given up.
     *
     * @param ids their ids
     * @return how many there were
     */
    int remove(List<UUID> ids);

    /**
     * Notes that a message wasn't handled.
     *
     * @param id its id
     * @param state whether it is tried again
     * @param due when
     * @param failure why, cut where it is too long
     */
    void fail(UUID id, FollowUpState state, Instant due, String failure);

    /**
     * Gives a message back that was taken and not handed over.
     *
     * @param id its id
     * @param due when it is due
     */
    void release(UUID id, Instant due);

    /**
     * Lets a message be handed over as if it never had been.
     *
     * @param id its id
     * @param now when it is due
     * @return whether there is one
     */
    boolean again(UUID id, Instant now);

    /**
     * Lists messages, those that failed first, then the oldest.
     *
     * @param most how many at most
     * @return the messages
     */
    List<FollowUpMessage> list(int most);

    /**
     * Counts messages.
     *
     * @param state which
     * @return how many there are
     */
    long count(FollowUpState state);

    /**
     * Finds a message.
     *
     * @param id its id
     * @return the message; empty if there is none
     */
    Optional<FollowUpMessage> find(UUID id);
}
