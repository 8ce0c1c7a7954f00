package dev.vacancy.followup;

import java.util.Map;
import java.util.Optional;

/**
 * Does what follows outside of the database. It is called after the commit, once for each message and again whenever nobody can tell
 * whether it was done: what it does a second time has to leave things as they are.
 *
 * @since 0.1
 */
@FunctionalInterface
public interface FollowUpHandler {
    /**
     * Handles a message.
     *
     * @param message what happened
     * @throws TryLaterException when it can't be done before some time
     * @throws Exception when it can't be done now; it is tried again, after longer each time
     */
    void handle(FollowUpMessage message) throws Exception;

    /**
     * Tells what keeps a record from coming back, such as a file that is gone. It is asked when a restore is planned and once more under
     * lock, and has to change nothing.
     *
     * @param table the record's table
     * @param key its key, as the audit trail spells it; empty of a table without one
     * @param values the columns that are handed over, as they would come back
     * @return why it can't, as a part of a sentence; empty if it can
     */
    default Optional<String> hinders(String table, Optional<String> key, Map<String, Object> values) {
        return Optional.empty();
    }
}
