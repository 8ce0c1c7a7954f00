package dev.vacancy.internal.follow;

import dev.vacancy.followup.FollowUpAction;
import dev.vacancy.internal.rules.FollowUpRule;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import java.util.Map;
import java.util.Optional;

/** Says what an entry of the trail means to somebody outside of the database. */
final class Translation {
    private final FollowUpRule rule;
    private final EntryValues values;

    Translation(FollowUpRule rule, EntryValues values) {
        this.rule = rule;
        this.values = values;
    }

    /**
     * Makes a message.
     *
     * @param original what the entry brought back or undid, where it did
     * @return empty where nothing happened that anybody outside needs to know
     */
    Optional<Pending> message(StoredRun run, StoredEntry entry, Optional<StoredEntry> original) {
        return switch (entry.action()) {
            case DELETED -> Optional.of(message(run, entry, FollowUpAction.DELETED, before(entry), Optional.empty()));
            case PURGED -> Optional.of(message(run, entry, FollowUpAction.PURGED, before(entry), Optional.empty()));
            case MARKED -> Optional.of(message(run, entry, FollowUpAction.MARKED, before(entry), Optional.empty()));
            case DETACHED, REASSIGNED, RESET, TOUCHED -> changed(run, entry, before(entry), after(entry));
            case REWRITTEN -> rewritten(run, entry);
            case RESTORED -> original.flatMap(first -> restored(run, entry, first));
            case HELD, ERASED, MASKED, AGED -> Optional.empty();
        };
    }

    /** What is said of a record that was gone, once it can't come back any more. */
    Pending noWayBack(StoredRun run, StoredEntry entry, long place) {
        return new Pending(rule.name(), run, place, entry, FollowUpAction.PURGED, before(entry), Optional.empty());
    }

    private Optional<Pending> restored(StoredRun run, StoredEntry entry, StoredEntry original) {
        Action undone = original.action();
        return undone.removes()
                ? Optional.of(message(run, entry, FollowUpAction.RESTORED, Optional.empty(), before(original)))
                : changed(run, entry, after(original), before(original));
    }

    /** Whoever is handed columns is told of their changes, and of no others. */
    private Optional<Pending> changed(
            StoredRun run, StoredEntry entry, Optional<Map<String, Object>> from, Optional<Map<String, Object>> to) {
        boolean same = rule.columns().isEmpty() ? entry.action() == Action.TOUCHED : from.equals(to);
        return same ? Optional.empty() : Optional.of(message(run, entry, FollowUpAction.CHANGED, from, to));
    }

    /** What it was before is what was to be forgotten. */
    private Optional<Pending> rewritten(StoredRun run, StoredEntry entry) {
        return values.set(entry, rule.columns())
                .filter(after -> !after.isEmpty())
                .map(after -> message(run, entry, FollowUpAction.CHANGED, Optional.empty(), Optional.of(after)));
    }

    private Pending message(
            StoredRun run,
            StoredEntry entry,
            FollowUpAction action,
            Optional<Map<String, Object>> before,
            Optional<Map<String, Object>> after) {
        return new Pending(rule.name(), run, run.place(), entry, action, before, after);
    }

    private Optional<Map<String, Object>> before(StoredEntry entry) {
        return values.before(entry, rule.columns());
    }

    private Optional<Map<String, Object>> after(StoredEntry entry) {
        return values.after(entry, rule.columns());
    }
}
