package dev.vacancy.rule;

import dev.vacancy.internal.request.GivenFollowUp;
import java.util.List;

/**
 * What else is to happen, outside of the database, when something happens to the records of a table: a file is put aside, a search entry
 * removed, another service told. The audit trail tells of it, so that it follows each run that is committed, and no other.
 *
 * @since 0.1
 */
public sealed interface FollowUp permits GivenFollowUp {
    /** {@return the name by which a handler takes it} */
    String name();

    /** {@return the columns whose values are handed over, before and after} */
    List<String> columnNames();

    /**
     * Names a follow-up, of which the handler is told the key of each record.
     *
     * @param name letters, digits, hyphens and underscores, 60 at most
     * @return the follow-up
     * @throws dev.vacancy.InvalidRequestException when the name has anything else in it, or more than 60 characters
     */
    static FollowUp named(String name) {
        return new GivenFollowUp(name, List.of());
    }

    /**
     * Hands over columns of the record as well.
     *
     * @param names the columns, such as that of a file's path; not one that the trail leaves out
     * @return the follow-up with them
     */
    default FollowUp columns(String... names) {
        return new GivenFollowUp(name(), List.of(names));
    }
}
