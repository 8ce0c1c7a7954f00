package dev.vacancy.documents.internal;

import com.mongodb.client.model.Filters;
import dev.vacancy.internal.follow.Pending;
import dev.vacancy.internal.follow.TrailMessages;
import dev.vacancy.internal.rules.FollowUpRule;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/**
 * Tells those who follow what belongs to documents that these can't come back any more, since the trail loses what it has of them.
 *
 * @param trail the trail, as a run finds it
 * @param rules what follows
 */
record Followers(DocumentTrail trail, List<FollowUpRule> rules) {
    /** Those of a trail, none where nothing follows. */
    static Followers of(DocumentTrail trail, Rules.Recording recording) {
        return new Followers(trail, recording.followUps());
    }

    /** The messages of some entries that are erased. */
    List<Pending> ofErased(List<StoredEntry> entries) {
        if (rules.isEmpty()) {
            return List.of();
        }
        Set<Reference> returned = entries.stream()
                .filter(entry -> entry.action() == Action.RESTORED && entry.about() != null)
                .map(StoredEntry::about)
                .collect(Collectors.toSet());
        Map<Long, List<StoredEntry>> byRun = entries.stream().collect(Collectors.groupingBy(StoredEntry::run));
        long place = trail.lastPlace() + 1;
        List<Pending> messages = new ArrayList<>();
        byRun.forEach((number, some) -> trail.run(number)
                .ifPresent(run -> messages.addAll(noWayBack(run, some, returned::contains, byRun.keySet(), place))));
        return messages;
    }

    /** The messages of runs that are pruned. */
    List<Pending> ofPruned(List<StoredRun> runs) {
        if (rules.isEmpty()) {
            return List.of();
        }
        Set<Long> going = runs.stream().map(StoredRun::number).collect(Collectors.toSet());
        long place = trail.lastPlace();
        List<Pending> messages = new ArrayList<>();
        for (StoredRun run : runs) {
            if (run.facts().kind().removes()) {
                Set<Reference> returned = returned(run);
                trail.each(
                        run.number(), some -> messages.addAll(noWayBack(run, some, returned::contains, going, place)));
            }
        }
        return messages;
    }

    private Set<Reference> returned(StoredRun run) {
        Set<Reference> returned = new HashSet<>();
        String own = run.facts().runId().toString();
        String whole = run.facts().partOf().map(Object::toString).orElse(own);
        trail.runs()
                .find(Filters.in(RunDocument.ABOUT, own, whole))
                .map(RunDocument::run)
                .forEach(about -> {
                    if (about.facts().kind().restores()) {
                        trail.eachUndone(about.facts().runId(), returned::add);
                    }
                });
        return returned;
    }

    private List<Pending> noWayBack(
            StoredRun run, List<StoredEntry> entries, Predicate<Reference> returned, Set<Long> going, long place) {
        return new TrailMessages(rules, trail, new DocumentValues())
                .noWayBack(run, entries, Action.DELETED::isOf, returned, going, place);
    }
}
