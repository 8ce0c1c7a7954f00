package dev.vacancy.examples.web;

import dev.vacancy.followup.FollowUpHandler;
import dev.vacancy.followup.FollowUpMessage;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ConcurrentHashMap;

/**
 * What the search box finds: the words of hives, by their keys. It isn't in the database, as in an application whose search is a service of
 * its own; a follow-up of deletions keeps it in step. To handle a message twice does no harm.
 */
final class SearchIndex implements FollowUpHandler {
    /** The columns of a hive that it is found by. */
    static final List<String> COLUMNS = List.of("name", "wood");

    private final Map<String, String> words = new ConcurrentHashMap<>();

    /** Takes down all hives that there are. */
    static SearchIndex of(Keepers keepers) {
        SearchIndex index = new SearchIndex();
        keepers.rows("select hive_id, name, wood from hive")
                .forEach(hive -> index.add(hive.get(0), hive.subList(1, 3)));
        return index;
    }

    private void add(String key, List<String> texts) {
        words.put(key, String.join(", ", texts));
    }

    @Override
    public void handle(FollowUpMessage message) {
        String key = message.key().orElseThrow();
        switch (message.action()) {
            case DELETED, MARKED, PURGED -> words.remove(key);
            case RESTORED, CHANGED ->
                add(
                        key,
                        COLUMNS.stream()
                                .map(message.values()::get)
                                .filter(Objects::nonNull)
                                .map(String::valueOf)
                                .toList());
        }
    }

    /** What is found: a hive that has all the words of a text, whatever their case. */
    record Found(String key, String words) {}

    List<Found> find(String text, int most) {
        List<String> sought = Arrays.stream(text.toLowerCase(Locale.ROOT).split("\\s+"))
                .filter(word -> !word.isEmpty())
                .toList();
        return words.entrySet().stream()
                .filter(hive -> {
                    String said = (hive.getKey() + " " + hive.getValue()).toLowerCase(Locale.ROOT);
                    return !sought.isEmpty() && sought.stream().allMatch(said::contains);
                })
                .map(hive -> new Found(hive.getKey(), hive.getValue()))
                .sorted(Comparator.comparing((Found hive) -> hive.key().length())
                        .thenComparing(Found::key))
                .limit(most)
                .toList();
    }
}
