package dev.vacancy.plan;

import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Selection;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.Drift;
import dev.vacancy.rule.Rule;
import java.time.Instant;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import java.util.Set;
import java.util.function.BiFunction;

/**
 * All that a deletion would do, as values for programs and as text for people. Making one changes nothing, and a plan
 * itself can do nothing: it has to be approved first, and then run.
 *
 * @param selection what was asked for
 * @param by who wants the deletion, and why
 * @param madeAt when the plan was made, the moment that relative times of the selection are told from
 * @param table the table whose records were selected
 * @param roots the selected records that would go, whole, in the order of their keys; of more than {@value #MOST_ROOTS} only the
 *     first ones, unless blocked ones are to be left out
 * @param selected how many selected records would go
 * @param ofTable how many records the table has, at the plan of several; empty where a single one was named, and at the run
 * @param notFound the selected keys that no record has, in the order in which they were given
 * @param alreadyDeleted the selected keys whose records are soft-deleted already, which changes nothing
 * @param skipped the selected records that are left out because children forbid their deletion, each with its blockers; empty
 *     unless the selection asks for that
 * @param counts how many records would be deleted of each table, by its name, the selected table first; a table that loses
 *     none isn't there
 * @param marked the tables among these whose records would be marked and stay; those of the others go for good
 * @param inactive how many of the records that would go for good were soft-deleted before, by table
 * @param effects what would become of the children, link by link, parents first; of links that have children
 * @param touched how many parents that stay would have who changed them last and when written on them, by table
 * @param blockers the child records that forbid the deletion; empty if the plan can be approved
 * @param holds what must not go until a hold is lifted; empty if the plan can be approved
 * @param warnings what a person should know before agreeing, each a sentence or two; not part of the fingerprint
 * @param recorded whether the audit trail would keep what the records are now, so that they can be restored
 * @param consent what a person has to give before the plan is run
 * @param colleague whether somebody else has to agree as well, by the rules
 * @param drift what never stands still, and may be another when the plan is run: the fingerprint leaves it out
 * @param fingerprint the digest of what the plan would do, 64 hexadecimal digits, SHA-256 (FIPS 180-4). Two plans with the
 *     same fingerprint do the same to the same records
 * @since 0.1
 */
public record Plan(
        Selection selection,
        By by,
        Instant madeAt,
        Table table,
        List<RecordContent> roots,
        long selected,
        OptionalLong ofTable,
        List<Key> notFound,
        List<Key> alreadyDeleted,
        List<Skipped> skipped,
        Map<String, Long> counts,
        Set<String> marked,
        Map<String, Long> inactive,
        List<Effect> effects,
        Map<String, Long> touched,
        List<Blocker> blockers,
        List<Held> holds,
        List<String> warnings,
        boolean recorded,
        Consent consent,
        boolean colleague,
        Drift drift,
        String fingerprint) {
    /** How many selected records a plan shows. */
    public static final int MOST_ROOTS = 1_000;

    /** Keeps its own copies of the collections. */
    public Plan {
        roots = List.copyOf(roots);
        notFound = List.copyOf(notFound);
        skipped = List.copyOf(skipped);
        counts = Collections.unmodifiableMap(new LinkedHashMap<>(counts));
        alreadyDeleted = List.copyOf(alreadyDeleted);
        marked = Collections.unmodifiableSet(new LinkedHashSet<>(marked));
        inactive = Collections.unmodifiableMap(new LinkedHashMap<>(inactive));
        holds = List.copyOf(holds);
        effects = List.copyOf(effects);
        touched = Collections.unmodifiableMap(new LinkedHashMap<>(touched));
        blockers = List.copyOf(blockers);
        warnings = List.copyOf(warnings);
    }

    /**
     * Returns the same plan with other samples, for somebody who may not see all of them.
     *
     * @param shownEffects what becomes of the children, with as many as before
     * @param shownBlockers who forbids the deletion, as many as before
     * @param shownSkipped what is left out, with its blockers
     * @return the plan, which does the same to the same records
     */
    public Plan showing(List<Effect> shownEffects, List<Blocker> shownBlockers, List<Skipped> shownSkipped) {
        return new Plan(
                selection,
                by,
                madeAt,
                table,
                roots,
                selected,
                ofTable,
                notFound,
                alreadyDeleted,
                shownSkipped,
                counts,
                marked,
                inactive,
                shownEffects,
                touched,
                shownBlockers,
                holds,
                warnings,
                recorded,
                consent,
                colleague,
                drift,
                fingerprint);
    }

    /**
     * Returns how many records would be deleted in all.
     *
     * @return 0 or more
     */
    public long total() {
        return counts.values().stream().mapToLong(Long::longValue).sum();
    }

    /**
     * Tells whether the table would be empty afterwards.
     *
     * @return true if each of its records was selected and there are several; false if that isn't known
     */
    public boolean isOfWholeTable() {
        return selected > 1 && ofTable.isPresent() && ofTable.getAsLong() == selected;
    }

    /**
     * Tells whether the selected records would be marked and stay.
     *
     * @return false if they go for good
     */
    public boolean isSoft() {
        return marked.contains(table.name());
    }

    /**
     * Tells whether all that would go can be brought back afterwards.
     *
     * @return true if the audit trail keeps it, or nothing goes for good
     */
    public boolean isReversible() {
        return recorded || marked.containsAll(counts.keySet());
    }

    /**
     * Tells whether something forbids the deletion.
     *
     * @return true if there are blockers or holds
     */
    public boolean isBlocked() {
        return !blockers.isEmpty() || !holds.isEmpty();
    }

    /**
     * Tells whether nothing would be deleted.
     *
     * @return true if none of the selected records is there, or all of them are skipped
     */
    public boolean isEmpty() {
        return selected == 0;
    }

    /**
     * Returns the plan as a tree of tables, for people.
     *
     * @return lines of text without a line feed at the end
     */
    public String tree() {
        return tree((rule, words) -> words);
    }

    /**
     * Returns the plan as a tree of tables, for people, with the words for what becomes of children as the caller wants
     * them: in colour on a terminal, say.
     *
     * @param words makes of a rule and the words for its effect what is to stand there
     * @return lines of text without a line feed at the end
     */
    public String tree(BiFunction<Rule, String, String> words) {
        return PlanTree.of(this, words);
    }

    /**
     * Returns the plan in plain records of text and numbers, for a mapper to JSON or for a page.
     *
     * @return the same without the catalog behind it
     */
    public PlanView view() {
        return PlanView.of(this);
    }

    @Override
    public String toString() {
        return tree();
    }
}
