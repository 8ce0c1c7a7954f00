package dev.vacancy.internal.planning;

import dev.vacancy.Blocker;
import dev.vacancy.By;
import dev.vacancy.Effect;
import dev.vacancy.Held;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Skipped;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.KeyList;
import dev.vacancy.internal.rules.IgnoredChanges;
import dev.vacancy.rule.Consent;
import java.time.Instant;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import java.util.Set;

/**
 * A deletion as the planner has worked it out.
 *
 * @param demanded what a person has to have given by the application's own rules
 * @param scope what it is of
 * @param selectedKeys digests the keys of all selected records, those that are left out among them
 * @since 0.1
 */
public record PlannedDeletion(
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
        Set<String> onOtherServers,
        boolean transactional,
        boolean recorded,
        Consent consent,
        boolean colleague,
        IgnoredChanges ignored,
        String fingerprint,
        Consent demanded,
        Scope scope,
        String selectedKeys)
        implements Plan, Gated {
    @Override
    public Set<String> ignoredChanges() {
        return ignored.places();
    }

    /** Keeps its own copies of the collections. */
    public PlannedDeletion {
        roots = List.copyOf(roots);
        notFound = KeyList.copyOf(notFound);
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
        onOtherServers = Collections.unmodifiableSet(new LinkedHashSet<>(onOtherServers));
    }

    @Override
    public PlannedDeletion proposal() {
        return this;
    }

    /**
     * Returns the same plan with other samples, for somebody who may not see all of them.
     *
     * @param shownRoots the selected records
     * @param shownEffects what becomes of the children, with as many as before
     * @param shownBlockers who forbids the deletion, as many as before
     * @param shownSkipped what is left out, with its blockers
     * @return the plan, which does the same to the same records
     */
    public PlannedDeletion showing(
            List<RecordContent> shownRoots,
            List<Effect> shownEffects,
            List<Blocker> shownBlockers,
            List<Skipped> shownSkipped) {
        return new PlannedDeletion(
                selection,
                by,
                madeAt,
                table,
                shownRoots,
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
                onOtherServers,
                transactional,
                recorded,
                consent,
                colleague,
                ignored,
                fingerprint,
                demanded,
                scope,
                selectedKeys);
    }

    @Override
    public String toString() {
        return tree();
    }
}
