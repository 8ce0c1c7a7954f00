package dev.vacancy.internal.trail;

import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * What the trail says of some records of a table, found by their keys.
 *
 * @param store where the trail is kept
 * @since 0.1
 */
public record RecordHistory(TrailStore store) {
    /**
     * One entry, without what it holds.
     *
     * @param reference which one
     * @param action what happened
     * @param key the record's key
     * @param about the entry that it is about
     */
    public record Mention(Reference reference, Action action, String key, Optional<Reference> about) {}

    /**
     * Finds the entries by which records went that can come back.
     *
     * @param table the records' table
     * @param keys their keys, at least one
     * @param runs the numbers of the runs
     * @return the entries of these runs that have the record's content
     */
    public List<Mention> kept(String table, List<String> keys, Set<Long> runs) {
        return mentions(table, keys, true).stream()
                .filter(mention -> mention.action().removes())
                .filter(mention -> runs.contains(mention.reference().run()))
                .toList();
    }

    /**
     * Finds the records that went after a run and haven't been brought back since: whatever has their key now is another record.
     *
     * @param table the records' table
     * @param keys their keys, at least one
     * @param run the number of the run
     * @param besides the numbers of runs that don't count, as they are being undone
     * @param marked whether a record that was marked counts as gone
     * @return the keys of those that went
     */
    public Set<String> goneSince(String table, List<String> keys, long run, Set<Long> besides, boolean marked) {
        List<Mention> mentions = mentions(table, keys, false).stream()
                .filter(mention -> mention.reference().run() != run
                        && !besides.contains(mention.reference().run()))
                .toList();
        if (mentions.isEmpty()) {
            return Set.of();
        }
        Set<Long> numbers = new HashSet<>(Set.of(run));
        mentions.forEach(mention -> numbers.add(mention.reference().run()));
        Map<Long, Long> places = store.places(numbers);
        Map<String, List<Mention>> since = mentions.stream()
                .filter(mention -> places.getOrDefault(mention.reference().run(), 0L) > places.getOrDefault(run, 0L))
                .sorted(Comparator.<Mention, Long>comparing(
                                mention -> places.get(mention.reference().run()))
                        .thenComparing(Mention::reference))
                .collect(Collectors.groupingBy(Mention::key));
        return since.entrySet().stream()
                .filter(record -> isGone(record.getValue(), marked))
                .map(Map.Entry::getKey)
                .collect(Collectors.toSet());
    }

    /** Whatever went while the record was away was another one that had its key. */
    private static boolean isGone(List<Mention> inOrder, boolean marked) {
        Optional<Reference> away = Optional.empty();
        for (Mention mention : inOrder) {
            boolean removes =
                    marked ? mention.action().removes() : mention.action().isDeletion();
            if (away.isEmpty() && removes) {
                away = Optional.of(mention.reference());
            } else if (away.isPresent() && away.equals(mention.about())) {
                away = Optional.empty();
            }
        }
        return away.isPresent();
    }

    private List<Mention> mentions(String table, List<String> keys, boolean whole) {
        List<String> wanted = keys.stream().filter(Objects::nonNull).distinct().toList();
        return wanted.isEmpty() ? List.of() : store.mentions(table, wanted, whole);
    }
}
