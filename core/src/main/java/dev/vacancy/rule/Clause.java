package dev.vacancy.rule;

import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.request.GivenClause;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * One clause of the rule on a link. A link has a list of them, and for each child the first that applies decides.
 *
 * <pre>{@code
 * block("its withholding period runs").where("withhold_until >= today"), cascade()
 * }</pre>
 *
 * @since 0.1
 */
public sealed interface Clause permits GivenClause {
    /** {@return what happens to the children that this clause decides for} */
    Rule rule();

    /** {@return which children those are; empty for all that no earlier clause decides for} */
    Optional<Criteria> criteria();

    /** {@return why, in words for people, or empty} */
    Optional<String> reason();

    /**
     * {@return the key of the parent that takes the children over, value by value; empty if the rule is another one or the request
     * names that parent}
     */
    List<Object> newParent();

    /** {@return whether the whole element of an array goes in which the field of the link stands; only in documents} */
    boolean takesElement();

    /**
     * The children go too.
     *
     * @return the clause
     */
    static Clause cascade() {
        return of(Rule.CASCADE, Optional.empty());
    }

    /**
     * The children forbid the deletion.
     *
     * @param reason why, in words for people
     * @return the clause
     */
    static Clause block(String reason) {
        return of(Rule.BLOCK, Optional.of(reason));
    }

    /**
     * The children survive without their parent.
     *
     * @return the clause
     */
    static Clause detach() {
        return of(Rule.DETACH, Optional.empty());
    }

    /**
     * The children survive with another parent.
     *
     * @param newParent its key, value by value; none if each request names it
     * @return the clause
     */
    static Clause reassign(Object... newParent) {
        return new GivenClause(Rule.REASSIGN, Optional.empty(), Optional.empty(), Arrays.asList(newParent));
    }

    /**
     * The children are left as they are; only on a link that the database doesn't enforce.
     *
     * @return the clause
     */
    static Clause keep() {
        return of(Rule.KEEP, Optional.empty());
    }

    /**
     * The children are left as they are, for a reason that people are told.
     *
     * @param reason why, in words for people
     * @return the clause
     */
    static Clause keep(String reason) {
        return of(Rule.KEEP, Optional.of(reason));
    }

    /**
     * Child and parent are one record in two tables, as object mappers store a subclass: whichever goes takes the other along.
     * Only for a child whose key is its foreign key.
     *
     * @return the clause
     */
    static Clause partOf() {
        return of(Rule.PART_OF, Optional.empty());
    }

    /**
     * Narrows the clause to some of the children.
     *
     * @param only which
     * @return the narrower clause
     */
    default Clause where(Criteria only) {
        return new GivenClause(rule(), Optional.of(only), reason(), newParent(), takesElement());
    }

    /**
     * Narrows the clause to some of the children.
     *
     * @param only which, as {@link Criteria#parse} reads it
     * @return the narrower clause
     */
    default Clause where(String only) {
        return where(Criteria.parse(only));
    }

    /**
     * Detaches a document by taking the whole element out of the innermost array in which the field of the link stands, such as an inspection of
     * whoever goes, and not that field alone. Where no array is on the way to the field, that is taken away as ever.
     *
     * @return the clause that does so
     * @throws InvalidRequestException when it is no {@link #detach}
     */
    default Clause takingElement() {
        if (rule() != Rule.DETACH) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "Only a clause that detaches can take an element, and not one that says " + rule() + ".",
                    "Write Clause.detach().takingElement().");
        }
        return new GivenClause(rule(), criteria(), reason(), newParent(), true);
    }

    private static Clause of(Rule rule, Optional<String> reason) {
        return new GivenClause(rule, Optional.empty(), reason, List.of());
    }
}
