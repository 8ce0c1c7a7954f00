package dev.vacancy.plan;

import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.SelectedRecords;
import dev.vacancy.rule.Drift;
import java.time.Instant;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * All that a deletion would do, as values for programs and as text for people. Making one changes nothing, and a plan
 * itself can do nothing: it has to be approved first, and then run.
 *
 * @since 0.1
 */
public final class Plan {
    private final SelectedRecords selection;
    private final By by;
    private final Instant madeAt;
    private final List<RecordContent> roots;
    private final List<Key> notFound;
    private final List<Skipped> skipped;
    private final Map<String, Long> counts;
    private final List<Effect> effects;
    private final List<Blocker> blockers;
    private final List<Step> steps;
    private final boolean deferring;
    private final String fingerprint;
    private final Drift drift;

    Plan(SelectedRecords selection, By by, Instant madeAt, Selected roots, Consequences consequences, Drift drift) {
        this.selection = selection;
        this.by = by;
        this.madeAt = madeAt;
        this.roots = roots.contents();
        this.notFound = roots.notFound();
        this.skipped = roots.skipped();
        this.counts = Collections.unmodifiableMap(new LinkedHashMap<>(consequences.counts()));
        this.effects = List.copyOf(consequences.effects());
        this.blockers = List.copyOf(consequences.blockers());
        this.steps = List.copyOf(consequences.steps());
        this.deferring = consequences.deferring();
        this.fingerprint = consequences.fingerprint();
        this.drift = drift;
    }

    /** The selected records: those that can go, the keys of those that aren't there, and those that are left out. */
    record Selected(List<RecordContent> contents, List<Key> notFound, List<Skipped> skipped) {
        Selected {
            contents = List.copyOf(contents);
            skipped = List.copyOf(skipped);
        }
    }

    /** What follows from the records that go. */
    record Consequences(
            Map<String, Long> counts,
            List<Effect> effects,
            List<Blocker> blockers,
            List<Step> steps,
            boolean deferring,
            String fingerprint) {}

    /**
     * Returns the table whose records were selected.
     *
     * @return the table
     */
    public Table table() {
        return selection.table();
    }

    /**
     * Returns what was asked for.
     *
     * @return the selection in terms of the catalog
     */
    public SelectedRecords selection() {
        return selection;
    }

    /**
     * Returns who wants the deletion, and why.
     *
     * @return the actor and the reason
     */
    public By by() {
        return by;
    }

    /**
     * Returns when the plan was made.
     *
     * @return the time
     */
    public Instant madeAt() {
        return madeAt;
    }

    /**
     * Returns the selected records that would go, whole, in the order of their keys.
     *
     * @return the records with all their values
     */
    public List<RecordContent> roots() {
        return roots;
    }

    /**
     * Returns the selected keys that no record has.
     *
     * @return the keys in the order in which they were given
     */
    public List<Key> notFound() {
        return notFound;
    }

    /**
     * Returns the selected records that are left out because children forbid their deletion, if the selection asks for
     * that.
     *
     * @return the records, each with its blockers; empty unless blocked records are skipped
     */
    public List<Skipped> skipped() {
        return skipped;
    }

    /**
     * Returns how many records would be deleted of each table, the selected table first. A table that loses none isn't
     * there.
     *
     * @return the numbers by the tables' names
     */
    public Map<String, Long> counts() {
        return counts;
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
     * Returns what would become of the children, link by link, parents first. Children that forbid the deletion are
     * {@link #blockers()}.
     *
     * @return the effects on links that have children
     */
    public List<Effect> effects() {
        return effects;
    }

    /**
     * Returns the child records that forbid the deletion.
     *
     * @return the blockers, empty if the plan can be approved
     */
    public List<Blocker> blockers() {
        return blockers;
    }

    /**
     * Returns what a run would do.
     *
     * @return the steps in their order; none while there are blockers
     */
    public List<Step> steps() {
        return steps;
    }

    /**
     * Tells whether the steps delete records that point at each other, so that the database's checks of foreign keys
     * have to wait until all of them are done.
     *
     * @return true if a run puts the checks off
     */
    public boolean isDeferring() {
        return deferring;
    }

    /**
     * Returns the digest of what the plan would do. Two plans with the same fingerprint do the same to the same records.
     *
     * @return 64 hexadecimal digits, SHA-256 (FIPS 180-4)
     */
    public String fingerprint() {
        return fingerprint;
    }

    /**
     * Returns what never stands still, and may be another when the plan is run.
     *
     * @return the tables and columns that the fingerprint leaves out
     */
    public Drift drift() {
        return drift;
    }

    /**
     * Tells whether nothing would be deleted.
     *
     * @return true if none of the selected records is there, or all of them are skipped
     */
    public boolean isEmpty() {
        return roots.isEmpty();
    }

    /**
     * Returns the plan as a tree of tables, for people.
     *
     * @return lines of text without a line feed at the end
     */
    public String tree() {
        return PlanTree.of(this);
    }

    @Override
    public String toString() {
        return tree();
    }
}
