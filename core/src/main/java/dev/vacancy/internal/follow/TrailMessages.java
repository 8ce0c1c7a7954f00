package dev.vacancy.internal.follow;

import dev.vacancy.internal.rules.FollowUpRule;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.RecordHistory;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailStore;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/**
 * Makes messages of what a trail tells.
 *
 * @param rules what follows
 * @param trail the trail
 * @param values reads columns out of its entries
 * @since 0.1
 */
public record TrailMessages(List<FollowUpRule> rules, TrailStore trail, EntryValues values) {
    private static final int RUNS = 100;
    private static final int ENTRIES = 1_000;

    /**
     * What the trail tells next.
     *
     * @param messages the messages that it makes
     * @param position how far it is read by then
     * @param more whether it may tell more
     */
    public record Portion(List<Pending> messages, Position position, boolean more) {}

    /**
     * Names the follow-ups of some rules.
     *
     * @param rules the rules
     * @return their names, each once
     */
    public static List<String> names(Rules rules) {
        return FollowUpHandlers.rules(rules).stream()
                .map(FollowUpRule::name)
                .distinct()
                .toList();
    }

    /**
     * Reads on.
     *
     * @param name the follow-up
     * @param position how far it has been read
     * @return what it tells next
     */
    public Portion next(String name, Position position) {
        Map<String, Translation> byTable = new LinkedHashMap<>();
        rules.stream()
                .filter(rule -> rule.name().equals(name))
                .forEach(rule -> byTable.put(rule.table().name(), new Translation(rule, values)));
        List<StoredRun> runs = trail.runsAfter(position.place(), RUNS);
        Reading reading = new Reading(byTable, position);
        for (StoredRun run : runs) {
            if (!reading.read(run)) {
                break;
            }
        }
        return new Portion(reading.messages, reading.position, !runs.isEmpty());
    }

    /** One portion. */
    private final class Reading {
        private final Map<String, Translation> byTable;
        private final List<Pending> messages = new ArrayList<>();
        private Position position;
        private int read;

        Reading(Map<String, Translation> byTable, Position position) {
            this.byTable = byTable;
            this.position = position;
        }

        /** Returns whether the run was read to its end. */
        boolean read(StoredRun run) {
            RunKind kind = run.facts().kind();
            if (kind.removes() || kind.restores() || kind == RunKind.MASKING) {
                for (EntryReader.StepOf step : trail.steps(run.facts().runId())) {
                    boolean concerned = byTable.containsKey(step.table()) && step.number() >= position.step();
                    if (concerned && !read(run, step.number(), byTable.get(step.table()))) {
                        return false;
                    }
                }
            }
            position = Position.behind(run.place());
            return true;
        }

        private boolean read(StoredRun run, int step, Translation translation) {
            long last = step == position.step() ? position.entry() : 0;
            while (read < ENTRIES) {
                List<StoredEntry> entries = trail.entriesAfter(run.facts().runId(), step, last, ENTRIES - read);
                if (entries.isEmpty()) {
                    return true;
                }
                translate(run, entries, translation);
                read += entries.size();
                last = entries.get(entries.size() - 1).place();
                position = position.within(step, last);
            }
            return false;
        }

        private void translate(StoredRun run, List<StoredEntry> entries, Translation translation) {
            Map<Reference, StoredEntry> originals =
                    entries.stream().anyMatch(entry -> entry.action() == Action.RESTORED)
                            ? trail.originals(entries)
                            : Map.of();
            for (StoredEntry entry : entries) {
                translation
                        .message(run, entry, Optional.ofNullable(entry.about()).map(originals::get))
                        .ifPresent(messages::add);
            }
        }
    }

    /**
     * Says of records that they can't come back any more, since what the trail has of them goes.
     *
     * @param run the run that they went by
     * @param entries what the trail has of them
     * @param lost which of them can't come back by that, if they haven't before
     * @param returned which of them came back before
     * @param going the numbers of all runs of which something goes
     * @param place the place in the trail that this comes behind
     * @return the messages
     */
    public List<Pending> noWayBack(
            StoredRun run,
            List<StoredEntry> entries,
            Predicate<StoredEntry> lost,
            Predicate<Reference> returned,
            Set<Long> going,
            long place) {
        List<Pending> messages = new ArrayList<>();
        for (FollowUpRule rule : rules) {
            List<StoredEntry> gone = entries.stream()
                    .filter(entry -> entry.table().equals(rule.table().name())
                            && lost.test(entry)
                            && !entry.isErased()
                            && !returned.test(entry.reference()))
                    .toList();
            Set<String> goneAgain = removedLater(rule, gone, going);
            gone.stream()
                    .filter(entry -> entry.key() == null || !goneAgain.contains(entry.key()))
                    .forEach(entry -> messages.add(new Translation(rule, values).noWayBack(run, entry, place)));
        }
        return messages;
    }

    /** What belongs to a record of the same key that went later, and can still come back, is put aside for that. */
    private Set<String> removedLater(FollowUpRule rule, List<StoredEntry> gone, Set<Long> going) {
        List<String> keys = gone.stream()
                .map(StoredEntry::key)
                .filter(Objects::nonNull)
                .distinct()
                .toList();
        return keys.isEmpty()
                ? Set.of()
                : trail.mentions(rule.table().name(), keys, false).stream()
                        .filter(mention -> mention.action().removes()
                                && !going.contains(mention.reference().run()))
                        .map(RecordHistory.Mention::key)
                        .collect(Collectors.toSet());
    }
}
