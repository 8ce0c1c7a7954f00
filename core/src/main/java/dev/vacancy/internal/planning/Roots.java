package dev.vacancy.internal.planning;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Plan;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.SelectedRecords;
import dev.vacancy.internal.rules.Rules;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.PriorityQueue;
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
        private Root withoutContent() {
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

    /** The same without some that are left out. */
    Roots without(Predicate<Key> leftOut) {
        return new Roots(
                roots.stream().filter(root -> !leftOut.test(root.key())).toList(), notFound, unheld);
    }

    /**
     * Reads the selected records, of those only what a further condition picks; a key that stands for no record exactly is not found.
     *
     * @param mostHeld how many records that no key names are held at most
     * @param look is shown each of them
     */
    static Roots read(
            Lookup lookup,
            Descent descent,
            Rules rules,
            SelectedRecords selection,
            Optional<Condition> only,
            long mostHeld,
            Consumer<RecordContent> look) {
        // Those that are left out are all told, each by its label.
        int shown = selection.skipBlocked() ? Integer.MAX_VALUE : Plan.MOST_ROOTS;
        Reading reading = new Reading(
                lookup, descent.columnsRead(selection.table()), rules, selection.table(), only, shown, look);
        return selection.keys().isEmpty()
                ? reading.byCondition(selection.picked().condition(), mostHeld)
                : reading.byKeys(selection.keys());
    }

    private static List<Root> sorted(Collection<Root> roots) {
        List<Root> sorted = new ArrayList<>(roots);
        sorted.sort(Comparator.comparing(Root::key));
        return sorted;
    }

    private record Reading(
            Lookup lookup,
            List<Column> columns,
            Rules rules,
            Table table,
            Optional<Condition> only,
            int shown,
            Consumer<RecordContent> look) {
        Roots byKeys(List<Key> keys) {
            List<Key> possible =
                    keys.stream().filter(key -> RecordKey.of(key).isPossible()).toList();
            Map<Key, Root> found = new LinkedHashMap<>();
            if (!possible.isEmpty()) {
                Set<Key> wanted = possible.stream()
                        .map(key -> RecordKey.of(key).comparable())
                        .collect(Collectors.toSet());
                // What a database takes for the same key, text in another case say, isn't what was asked for.
                records(
                                condition(possible),
                                root -> wanted.contains(RecordKey.of(root.key()).comparable()))
                        .forEach(root -> found.put(RecordKey.of(root.key()).comparable(), root));
            }
            Map<Key, Root> byMeaning = new LinkedHashMap<>();
            possible.stream()
                    .filter(key -> RecordKey.of(key).isComparedByDatabase()
                            && !found.containsKey(RecordKey.of(key).comparable()))
                    .forEach(key -> meant(key).ifPresent(root -> byMeaning.put(key, root)));
            List<Root> all = new ArrayList<>(found.values());
            byMeaning.values().stream()
                    .filter(root -> all.stream().noneMatch(same -> same.exact().equals(root.exact())))
                    .forEach(all::add);
            return new Roots(
                    sorted(all),
                    keys.stream()
                            .filter(key ->
                                    !found.containsKey(RecordKey.of(key).comparable()) && !byMeaning.containsKey(key))
                            .toList(),
                    Optional.empty());
        }

        /** Beyond what is held, only those that are shown are kept. */
        Roots byCondition(Condition picked, long mostHeld) {
            Condition condition = narrowed(picked);
            KeyDigest keys = new KeyDigest();
            KeyDigest contents = new KeyDigest();
            List<Root> roots = records(condition, mostHeld, root -> {
                keys.add(root.key());
                contents.add(root.digest());
                return true;
            });
            if (keys.count() == roots.size()) {
                return new Roots(sorted(roots), List.of(), Optional.empty());
            }
            roots.removeIf(root -> root.content().isEmpty());
            return new Roots(sorted(roots), List.of(), Optional.of(new Unheld(condition, keys, contents)));
        }

        List<Root> records(Condition condition, Predicate<Root> wanted) {
            return sorted(records(narrowed(condition), Long.MAX_VALUE, wanted));
        }

        private Condition narrowed(Condition condition) {
            return only.<Condition>map(further -> new Condition.AllOf(List.of(condition, further)))
                    .orElse(condition);
        }

        /** Reads records one by one, and keeps the content of no more than are shown. */
        private List<Root> records(Condition condition, long mostHeld, Predicate<Root> wanted) {
            Records records = new Records(rules.catalog());
            int width = table.identity().size();
            PriorityQueue<Root> first =
                    new PriorityQueue<>(Comparator.comparing(Root::key).reversed());
            List<Root> others = new ArrayList<>();
            lookup.eachWhole(table, columns, condition, row -> {
                RecordContent content = records.content(table, row.exact().subList(0, width), row.values());
                Root root = new Root(content.key(), row.exact(), digest(content), Optional.of(content));
                if (!wanted.test(root)) {
                    return;
                }
                look.accept(content);
                first.add(root);
                if (first.size() > shown) {
                    others.add(first.remove().withoutContent());
                }
                if (first.size() + others.size() > mostHeld) {
                    others.clear();
                }
            });
            others.addAll(first);
            return others;
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
            return digest.digest();
        }

        private Condition condition(List<Key> keys) {
            return new Condition.Among(
                    table.identity(), keys.stream().map(Key::values).toList());
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
            List<Root> meant = records(new Condition.AllOf(parts), root -> hasTheSameText(key, root.key()));
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
