package dev.vacancy.rule;

import dev.vacancy.internal.request.GivenTraceRule;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What is known of the person that a record of a table stands for, beside the records that links lead to, and what an erasure does with it.
 *
 * <pre>{@code
 * RuleBook.bySchema().trace("keeper",
 *     TraceRule.knownBy("name", "email")
 *         .masking("inspection.note", "photo.caption")              // where somebody may have written about them
 *         .keeping("newsletter.text", "it was printed")
 *         .on("inspection.keeper_id", Clause.detach()))             // in an erasure; a deletion goes by its own rules
 * }</pre>
 *
 * <p>It is immutable.
 *
 * @since 0.1
 */
public sealed interface TraceRule permits GivenTraceRule {
    /** {@return the columns of the record whose text is looked for elsewhere} */
    List<String> knownByColumns();

    /** {@return the columns of text that are looked through, such as {@code inspection.note}, each with why it is kept; empty where it is masked} */
    Map<String, Optional<String>> places();

    /** {@return what becomes of children on a link, where an erasure does something else than a deletion} */
    Map<String, List<Clause>> clauses();

    /** {@return why the record itself stays; empty if it goes} */
    Optional<String> keptRecord();

    /** {@return the columns of the record that are masked if it stays} */
    List<String> maskedColumns();

    /**
     * Says by which texts a person is known, such as a name and an address. What has less than 3 characters isn't looked for.
     *
     * @param columns columns of text of the record; none if nothing is looked for
     * @return the rule
     */
    static TraceRule knownBy(String... columns) {
        return new GivenTraceRule(List.of(columns), Map.of(), Map.of(), Optional.empty(), List.of());
    }

    /**
     * Looks through columns of text, and has these texts masked there by an erasure: asterisks take their place.
     *
     * @param places such as {@code inspection.note}
     * @return the larger rule
     */
    TraceRule masking(String... places);

    /**
     * Looks through a column of text, and leaves these texts there.
     *
     * @param place such as {@code newsletter.text}
     * @param reason why, in words for people
     * @return the larger rule
     */
    TraceRule keeping(String place, String reason);

    /**
     * Gives the rule on a link for an erasure. Children that none of its clauses applies to are treated as in any deletion.
     *
     * @param link where its foreign key stands, such as {@code inspection.keeper_id}
     * @param clauses the clauses, in their order
     * @return the larger rule
     */
    TraceRule on(String link, Clause... clauses);

    /**
     * Keeps the record itself, because something has to stay that points at it: what is personal of it is masked. Columns that may be null
     * are emptied, and in columns of text a stand-in takes the place of the text. Children may be kept by {@link Clause#keep(String)}, though
     * the database enforces the link.
     *
     * @param reason why, in words for people
     * @param masked the columns that are masked, at least one
     * @return the larger rule
     */
    TraceRule keepingRecord(String reason, String... masked);
}
