package dev.vacancy.internal.planning;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Plan;
import dev.vacancy.UnexpectedCountException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.catalog.KeyList;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.SelectedRecords;
import dev.vacancy.internal.failure.UnexpectedCounts;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.Digest;
import dev.vacancy.internal.store.Fingerprint;
import dev.vacancy.internal.store.KeyDigest;
import dev.vacancy.internal.store.RecordStore;
import dev.vacancy.internal.store.Records;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/**
 * The selected records.
 *
 * @param roots those that are there, by their keys; of too many to be held only the first, those that are shown
 * @param notFound the keys that no record has
 * @param unheld what is known of all of them, if there are too many to be held
 */
record Roots(List<Root> roots, List<Key> notFound, Optional<Unheld> unheld) {
    /**
     * Records that stay in the database.
     *
     * @param condition picks them
     * @param keys digests their keys
     * @param contents digests their contents
     */
    record Unheld(Condition condition, KeyDigest keys, KeyDigest contents) {}

    /**
     * One of them.
     *
     * @param key its key
     * @param exact what the planner has to know of it, exactly
     * @param digest digests its content
     * @param content the whole record; of many only the first by key have it
     */
    record Root(Key key, List<Object> exact, Digest digest, Optional<RecordContent> content) {
        Root withoutContent() {
            return new Root(key, exact, digest, Optional.empty());
        }
    }

    /** How many there are. */
    long count() {
        return unheld.isPresent() ? unheld.get().keys().count() : roots.size();
    }

    /** Picks them. */
    Condition condition(Table table) {
        return unheld.isPresent()
                ? unheld.get().condition()
                : new Condition.Among(
                        table.identity(),
                        roots.stream().map(root -> root.key().values()).toList());
    }

    /** Digests their contents. */
    KeyDigest contents() {
        if (unheld.isPresent()) {
            return unheld.get().contents();
        }
        KeyDigest contents = new KeyDigest();
        roots.forEach(root -> contents.add(root.digest()));
        return contents;
    }

    /** Digests their keys. */
    KeyDigest keys() {
        if (unheld.isPresent()) {
            return unheld.get().keys();
        }
        KeyDigest keys = new KeyDigest();
        roots.forEach(root -> keys.add(root.key()));
        return keys;
    }

    /**
     * Sees to it that there are as many as the selection expects.
     *
     * @throws UnexpectedCountException when there are others
     */
    void requireExpected(SelectedRecords selection, List<Key> notFound) {
        long found = count();
        if (selection.expected().isPresent() && selection.expected().getAsLong() != found) {
            String missing = notFound.isEmpty()
                    ? ""
                    : notFound.stream().limit(5).map(Key::text).collect(Collectors.joining(", ", " (not found: ", ")"));
            throw UnexpectedCounts.other(
                    selection.table().name(), selection.expected().getAsLong(), found, missing);
        }
        if (selection.most().isPresent() && selection.most().getAsLong() < found) {
            throw UnexpectedCounts.more(
                    selection.table().name(), selection.most().getAsLong(), found);
        }
    }

    /** The same without some that are left out. */
    Roots without(Predicate<Key> leftOut) {
        return new Roots(
                roots.stream().filter(root -> !leftOut.test(root.key())).toList(), notFound, unheld);
    }

    /**
     * Reads the selected records, of those only what a further condition picks; a key that stands for no record exactly is not found.
     *
     * @param mostHeld how many records are held at most
     * @param look is shown each of them
     */
    static Roots read(
            RecordStore store,
            Rules rules,
            SelectedRecords selection,
            Optional<Condition> only,
            long mostHeld,
            Consumer<RecordContent> look) {
        // Those that are left out are all told, each by its label.
        int shown = selection.skipBlocked() ? Integer.MAX_VALUE : Plan.MOST_ROOTS;
        List<Column> columns = RecordSets.columnsRead(selection.table(), rules.catalog());
        Set<String> names =
                selection.table().columns().stream().map(Column::name).collect(Collectors.toSet());
        Reading reading = new Reading(store, columns, rules, selection.table(), names, only, shown, look);
        return selection.keys().isEmpty()
                ? reading.byCondition(selection.picked().condition(), mostHeld)
                : reading.byKeys(selection.keys(), mostHeld);
    }

    private record Reading(
            RecordStore store,
            List<Column> columns,
            Rules rules,
            Table table,
            Set<String> names,
            Optional<Condition> only,
            int shown,
            Consumer<RecordContent> look) {
        Roots byKeys(List<Key> keys, long mostHeld) {
            List<Key> possible = possible(keys);
            if (possible.isEmpty()) {
                return new Roots(List.of(), keys, Optional.empty());
            }
            RequestedKeys requested = new RequestedKeys(possible);
            // What a database takes for the same key, text in another case say, isn't what was asked for.
            RootCollection collection = new RootCollection(shown, mostHeld);
            each(narrowed(among(possible)), root -> requested.find(root.key()), collection::add);
            Map<Key, Root> byMeaning = new LinkedHashMap<>();
            Map<Key, Root> meant = new LinkedHashMap<>();
            possible.stream()
                    .filter(key -> RecordKey.of(key).isComparedByDatabase() && !requested.isFound(key))
                    .forEach(key -> meant(key).ifPresent(root -> byMeaning.put(key, root)));
            byMeaning.values().stream()
                    .filter(root -> !requested.isFound(root.key()))
                    .forEach(root -> meant.putIfAbsent(root.key(), root));
            meant.values().forEach(collection::add);
            List<Key> notFound = keys.stream()
                    .filter(key -> !requested.isFound(key) && !byMeaning.containsKey(key))
                    .toList();
            // Whatever is done to the records, their keys stay: not so what else they were picked by.
            return collection.roots(
                    () -> new Condition.Among(table.identity(), requested.found(meant.keySet())), notFound);
        }

        private static List<Key> possible(List<Key> keys) {
            return keys.stream().allMatch(key -> RecordKey.of(key).isPossible())
                    ? keys
                    : keys.stream()
                            .filter(key -> RecordKey.of(key).isPossible())
                            .toList();
        }

        Roots byCondition(Condition picked, long mostHeld) {
            Condition condition = narrowed(picked);
            RootCollection collection = new RootCollection(shown, mostHeld);
            each(condition, root -> true, collection::add);
            return collection.roots(() -> condition, List.of());
        }

        private Condition narrowed(Condition condition) {
            return only.<Condition>map(further -> new Condition.AllOf(List.of(condition, further)))
                    .orElse(condition);
        }

        private void each(Condition condition, Predicate<Root> wanted, Consumer<Root> taker) {
            Records records = new Records(rules.catalog());
            int width = table.identity().size();
            store.eachWhole(table, columns, condition, row -> {
                RecordContent content = records.content(table, row.exact().subList(0, width), row.values());
                Root root = new Root(content.key(), row.exact(), digest(content), Optional.of(content));
                if (wanted.test(root)) {
                    look.accept(content);
                    taker.accept(root);
                }
            });
        }

        /**
         * What a person saw of a selected record is part of what that person agreed to, less what never stands still; which record it
         * is always is.
         */
        private Digest digest(RecordContent root) {
            Fingerprint digest =
                    new Fingerprint().addAll(RecordKey.of(root.key()).storable());
            for (Column column : table.columns()) {
                if (!rules.ignored().ignores(table, column)) {
                    digest.add(column.storedName()).addContent(root.values().get(column.name()));
                }
            }
            // What a database keeps without a schema, the catalog needn't know.
            root.values().entrySet().stream()
                    .filter(field -> !names.contains(field.getKey()))
                    .forEach(field -> digest.add(field.getKey()).addContent(field.getValue()));
            return digest.digest();
        }

        private Condition among(List<Key> keys) {
            return new Condition.Among(table.identity(), KeyList.of(keys).values());
        }

        /**
         * The record that the database knows by another spelling of a key: an interval of 24 hours for one of a day, say.
         * Text is the same only if it is the very same.
         */
        private Optional<Root> meant(Key key) {
            List<Condition> parts = new ArrayList<>();
            for (int i = 0; i < key.columns().size(); i++) {
                parts.add(new Condition.Means(key.columns().get(i), key.values().get(i)));
            }
            List<Root> meant = new ArrayList<>();
            each(narrowed(new Condition.AllOf(parts)), root -> hasTheSameText(key, root.key()), meant::add);
            if (meant.size() > 1) {
                throw new InvalidRequestException(
                        FailureCode.AMBIGUOUS_KEY,
                        "The key " + key + " stands for " + meant.size() + " records of " + table + ": "
                                + meant.stream().map(root -> root.key().text()).collect(Collectors.joining(", "))
                                + ".",
                        "Write it the way the record has it.");
            }
            return meant.stream().findFirst();
        }

        private static boolean hasTheSameText(Key wanted, Key found) {
            for (int i = 0; i < wanted.columns().size(); i++) {
                boolean text = ColumnType.of(wanted.columns().get(i)).isText();
                if (text
                        && !RecordKey.of(wanted)
                                .comparable()
                                .values()
                                .get(i)
                                .equals(RecordKey.of(found)
                                        .comparable()
                                        .values()
                                        .get(i))) {
                    return false;
                }
            }
            return true;
        }
    }
}
