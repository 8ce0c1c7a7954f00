package dev.vacancy.followup;

import dev.vacancy.DatabaseException;
import dev.vacancy.InvalidRequestException;
import java.util.List;
import java.util.UUID;

/**
 * What follows committed runs outside of the database. The audit trail is what tells of them, so that a run takes no longer for it, and
 * nothing follows what was rolled back. Get one by {@code vacancy.followUps()}.
 *
 * <p>Any number of threads and processes may work at once. The messages of one record are handed over in the order in which things
 * happened to it, each at least once; one that fails is tried again after longer each time, {@value #MOST_ATTEMPTS} times in all, and then
 * waits for somebody who sends it again or gives it up.
 *
 * @since 0.1
 */
public interface FollowUps {
    /** How often a message is handed over before it waits for somebody. */
    int MOST_ATTEMPTS = 10;

    /**
     * Hands over whatever is due by now to the handlers that this Vacancy has.
     *
     * @return how many messages were handled
     * @throws InvalidRequestException when there is no handler
     * @throws DatabaseException when the database refuses a statement
     */
    long work();

    /**
     * Lists messages that were not handled yet, the oldest first.
     *
     * @param most how many at most
     * @return the messages, those that failed first
     * @throws InvalidRequestException when {@code most} is none
     * @throws DatabaseException when the database can't be read
     */
    List<FollowUpMessage> list(int most);

    /**
     * Counts the messages that were not handled yet.
     *
     * @param state those that are open, or those that have failed
     * @return how many there are
     * @throws DatabaseException when the database can't be read
     */
    long count(FollowUpState state);

    /**
     * Looks a message up.
     *
     * @param id its id
     * @return the message
     * @throws InvalidRequestException when there is none, as it was handled for instance
     * @throws DatabaseException when the database can't be read
     */
    FollowUpMessage find(UUID id);

    /**
     * Has a message handed over again at once, whether it failed or waits.
     *
     * @param id its id
     * @throws InvalidRequestException when there is none
     * @throws DatabaseException when the database refuses a statement
     */
    void again(UUID id);

    /**
     * Gives a message up: nobody handles it, and the later ones of its record go on.
     *
     * @param id its id
     * @throws InvalidRequestException when there is none
     */
    void giveUp(UUID id);
}
