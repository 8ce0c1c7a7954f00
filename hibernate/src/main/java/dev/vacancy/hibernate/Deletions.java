package dev.vacancy.hibernate;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.ColumnCriteria;
import dev.vacancy.Criteria;
import dev.vacancy.Permissions;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.history.RestoreOutcome;
import jakarta.persistence.metamodel.SingularAttribute;
import java.util.Collection;
import java.util.UUID;

/**
 * Deletes entities of one class, by their ids and attributes instead of keys and columns. The same may be a part of a repository.
 *
 * <pre>{@code
 * Deletions<Craft, Long> craft = mapping.deletions(vacancy, Craft.class);
 * Plan plan = craft.plan(100L, by);
 * EntityOutcome<Long> outcome = craft.delete(craft.select(craft.attribute(Craft_.name).like("Fell%")), by);
 * List<Long> gone = outcome.ids();
 * }</pre>
 *
 * <p>It is safe for use by many threads.
 *
 * @param <E> the entity
 * @param <ID> its id
 * @since 0.1
 */
public interface Deletions<E, ID> {
    /**
     * Returns the same for one person, as far as permissions go.
     *
     * @param by who; whatever is asked for must be wanted by them
     * @param permissions what they may do; to be told ids takes {@link Permissions.Action#SEE} for the tables of all entities
     * @return deletions that refuse whatever the person may not do
     */
    Deletions<E, ID> actingFor(By by, Permissions permissions);

    /**
     * Selects one entity.
     *
     * @param id its id, of its own type
     * @return the selection
     * @throws dev.vacancy.InvalidRequestException when the id is of another type, or the entity's table isn't there
     */
    Selection selectId(ID id);

    /**
     * Selects several entities.
     *
     * @param ids their ids; none is refused when it comes to a plan
     * @return the selection
     * @throws dev.vacancy.InvalidRequestException when an id is of another type, or the entity's table isn't there
     */
    Selection selectIds(Collection<? extends ID> ids);

    /**
     * Selects an entity that the application holds.
     *
     * @param entity the entity, managed or detached
     * @return the selection
     * @throws dev.vacancy.InvalidRequestException when it has no id yet
     */
    Selection selectEntity(E entity);

    /**
     * Selects the entities that meet a criteria.
     *
     * @param criteria on columns, as {@link #attribute} begins it
     * @return the selection
     */
    Selection select(Criteria criteria);

    /**
     * Begins a criteria on an attribute.
     *
     * @param attribute an attribute of the entity, as its static metamodel has it
     * @param <V> its type
     * @return the attribute's column, which is compared with values as the attribute has them
     * @throws dev.vacancy.InvalidRequestException when it isn't in one column
     */
    @SuppressWarnings("unchecked") // a column takes whatever values the attribute has
    default <V> ColumnCriteria<V> attribute(SingularAttribute<? super E, V> attribute) {
        return (ColumnCriteria<V>) attribute(attribute.getName());
    }

    /**
     * Begins a criteria on an attribute.
     *
     * @param name its name; of an embedded one with a point, such as {@code position.pier}
     * @return the attribute's column, which is compared with values as the attribute has them
     * @throws dev.vacancy.InvalidRequestException when there is none, or it isn't in one column
     */
    ColumnCriteria<Object> attribute(String name);

    /**
     * Works out all that a deletion would do.
     *
     * @param id the entity's id
     * @param by who wants it, and why
     * @return the plan
     * @throws dev.vacancy.InvalidRequestException as for {@link dev.vacancy.Vacancy#plan(Selection, By)}
     */
    default Plan plan(ID id, By by) {
        return plan(selectId(id), by);
    }

    /**
     * Works out all that a deletion would do.
     *
     * @param selection which entities, as this selects them
     * @param by who wants it, and why
     * @return the plan
     * @throws dev.vacancy.InvalidRequestException as for {@link dev.vacancy.Vacancy#plan(Selection, By)}
     */
    Plan plan(Selection selection, By by);

    /**
     * Asks about a deletion.
     *
     * @param id the entity's id
     * @param by who wants it, and why
     * @return the question, whose answer is what {@link #run} takes
     * @throws dev.vacancy.InvalidRequestException as for {@link dev.vacancy.Vacancy#plan(Selection, By)}
     */
    default Question ask(ID id, By by) {
        return Question.about(plan(id, by));
    }

    /**
     * Carries out what was agreed to.
     *
     * @param approval proof that somebody agreed to a plan
     * @return what happened, with the ids of what went
     * @throws dev.vacancy.StalePlanException as for {@link dev.vacancy.Vacancy#run(Approval)}
     */
    EntityOutcome<ID> run(Approval approval);

    /**
     * Deletes what a program has decided to.
     *
     * @param id the entity's id
     * @param by who wants it, and why
     * @return what happened, with the ids of what went
     * @throws dev.vacancy.BlockedException as for {@link dev.vacancy.Vacancy#delete(Selection, By)}
     */
    default EntityOutcome<ID> delete(ID id, By by) {
        return delete(selectId(id), by);
    }

    /**
     * Deletes what a program has decided to.
     *
     * @param selection which entities, as this selects them
     * @param by who wants it, and why
     * @return what happened, with the ids of what went
     * @throws dev.vacancy.BlockedException as for {@link dev.vacancy.Vacancy#delete(Selection, By)}
     */
    EntityOutcome<ID> delete(Selection selection, By by);

    /**
     * Undoes a run.
     *
     * @param run its id
     * @param by who wants it, and why
     * @return what came back
     * @throws dev.vacancy.InvalidRequestException when there is no trail, no such run, or something stands in the way
     */
    RestoreOutcome restore(UUID run, By by);

    /**
     * Brings back an entity that was deleted last, with what went with it.
     *
     * @param id its id
     * @param by who wants it, and why
     * @return what came back
     * @throws dev.vacancy.InvalidRequestException when there is no trail, nothing of it is recorded, or something stands in the way
     */
    RestoreOutcome restoreId(ID id, By by);

    /**
     * Brings back an entity that the application still holds, with what went with it.
     *
     * @param entity the entity, detached since it was deleted
     * @param by who wants it, and why
     * @return what came back
     * @throws dev.vacancy.InvalidRequestException as for {@link #restoreId}
     */
    RestoreOutcome restoreEntity(E entity, By by);
}
