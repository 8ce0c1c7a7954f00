package dev.vacancy.internal.restoring;

import dev.vacancy.By;
import dev.vacancy.history.Conflict;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.history.TrailRun;
import dev.vacancy.internal.planning.Gated;
import dev.vacancy.internal.planning.Scope;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.StoreTraits;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/**
 * A restore as it was worked out.
 *
 * @param colleague whether somebody else has to agree as well
 * @param scope what it is of
 * @since 0.1
 */
public record PlannedRestore(
        TrailRun run,
        UUID undone,
        Optional<String> only,
        By by,
        Instant madeAt,
        Map<String, Long> counts,
        Map<String, Long> putBack,
        List<String> left,
        List<Conflict> conflicts,
        String fingerprint,
        boolean colleague,
        boolean transactional,
        Scope scope)
        implements RestorePlan, Gated {
    /** Keeps its own copies of the collections. */
    public PlannedRestore {
        counts = Collections.unmodifiableMap(new LinkedHashMap<>(counts));
        putBack = Collections.unmodifiableMap(new LinkedHashMap<>(putBack));
        left = List.copyOf(left);
        conflicts = List.copyOf(conflicts);
    }

    /**
     * Makes a plan of what was found.
     *
     * @param undone what is undone
     * @param found what can come back, and what stands in the way
     * @param scope what it is of
     */
    static PlannedRestore of(UndoneRuns undone, Restorable found, Scope scope, By by, Instant madeAt, Rules rules) {
        String fingerprint = Chain.digest(scope + "\n" + undone.runs() + " " + undone.only() + "\n" + found.counts()
                + "\n" + found.putBack() + "\n" + found.conflicts());
        boolean colleague = found.counts().keySet().stream()
                .anyMatch(table -> rules.consent(rules.catalog().table(table))
                        .filter(ConsentRule::colleague)
                        .isPresent());
        return new PlannedRestore(
                PublicForm.run(undone.recorded()),
                undone.id(),
                undone.only().map(RecordInTrail::toString),
                by,
                madeAt,
                found.counts(),
                found.putBack(),
                found.left(),
                found.conflicts(),
                fingerprint,
                colleague,
                true,
                scope);
    }

    /**
     * Returns the same for a database whose transactions may not hold it.
     *
     * @param traits what the database can do
     * @return the other plan
     */
    PlannedRestore on(StoreTraits traits) {
        long links = putBack.values().stream().mapToLong(Long::longValue).sum();
        boolean holds = traits.isTransactional(total() + links);
        return new PlannedRestore(
                run, undone, only, by, madeAt, counts, putBack, left, conflicts, fingerprint, colleague, holds, scope);
    }

    /**
     * Returns the same with something else that stands in its way.
     *
     * @param conflict what stands there
     * @return the other plan
     */
    PlannedRestore hinderedBy(Conflict conflict) {
        List<Conflict> all = new ArrayList<>(conflicts);
        all.add(conflict);
        return new PlannedRestore(
                run,
                undone,
                only,
                by,
                madeAt,
                counts,
                putBack,
                left,
                all,
                fingerprint,
                colleague,
                transactional,
                scope);
    }

    /**
     * Returns the same with something else that a person should know.
     *
     * @param sentence what they should
     * @return the other plan
     */
    PlannedRestore telling(String sentence) {
        List<String> all = new ArrayList<>(left);
        all.add(sentence);
        return new PlannedRestore(
                run,
                undone,
                only,
                by,
                madeAt,
                counts,
                putBack,
                all,
                conflicts,
                fingerprint,
                colleague,
                transactional,
                scope);
    }

    /** {@return nothing: what is asked before records go isn't asked before they come back} */
    @Override
    public Consent demanded() {
        return Consent.NONE;
    }

    @Override
    public PlannedRestore proposal() {
        return this;
    }
}
