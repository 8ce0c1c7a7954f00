package dev.vacancy.hibernate;

import dev.vacancy.Outcome;
import java.util.List;

/**
 * What a run did, with the ids of the entities that went.
 *
 * @param <ID> the id of the selected entities
 * @since 0.1
 */
public interface EntityOutcome<ID> {
    /** {@return what the run did} */
    Outcome outcome();

    /** {@return the ids of the entities of the selected class that are gone or marked, those that went along among them} */
    List<ID> ids();

    /**
     * Returns the ids of entities that are gone or marked.
     *
     * @param entity their class
     * @return their ids, of the class's own type; empty if none of them went
     * @throws dev.vacancy.InvalidRequestException when the class isn't an entity, or its id has a shape that can't be made of a key
     */
    List<?> ids(Class<?> entity);
}
