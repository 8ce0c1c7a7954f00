package dev.vacancy.property;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Predicate;

/**
 * What deletions and restores do to five tables, told the plain way: record by record, in maps. A deletion gives the changes it
 * made; to take them back is to look at each of them alone.
 */
final class Larkmoor {
    /** Takes over the inspections of those who leave, and stays. */
    static final int SUCCESSOR = 5;

    /** From this inspection on the successor takes over; those before lose their keeper. */
    static final int TAKEN_OVER = 1_007;

    private static final Map<String, Map<String, String>> LINKS = Map.of(
            "keeper", Map.of(),
            "hive", Map.of("keeper_id", "keeper", "mother_id", "hive"),
            "inspection", Map.of("hive_id", "hive", "keeper_id", "keeper"),
            "photo", Map.of("hive_id", "hive"),
            "stay", Map.of("keeper_id", "keeper"));

    private final Map<String, Map<String, Map<String, String>>> tables = new TreeMap<>();

    private final Map<String, Integer> marked = new TreeMap<>();

    Larkmoor() {
        LINKS.keySet().forEach(table -> tables.put(table, new TreeMap<>()));
    }

    /** What a deletion did to one record. */
    sealed interface Change {
        String table();

        String key();
    }

    /** It went for good. */
    record Removed(String table, String key, Map<String, String> row) implements Change {}

    /** It got another value in a column: in that of its marker, or in a foreign key. */
    record Altered(String table, String key, String column, String before, String after) implements Change {
        boolean marks() {
            return column.equals("gone");
        }
    }

    /** It was the latest of its keeper, and got one after it that ends it. */
    record Closed(String table, String key, String closing) implements Change {}

    Map<String, Map<String, String>> rows(String table) {
        return tables.get(table);
    }

    void put(String table, String key, Map<String, String> row) {
        rows(table).put(key, new LinkedHashMap<>(row));
    }

    @Override
    public String toString() {
        return tables.toString();
    }

    List<Change> delete(String table, Set<String> keys, boolean hard, String day) {
        Predicate<Map<String, String>> counts = row -> hard || !"1".equals(row.get("gone"));
        Set<String> keepers = selected("keeper", table, keys, counts);
        Set<String> hives = selected("hive", table, keys, counts);
        hives.addAll(children("hive", "keeper_id", keepers, counts));
        Set<String> inspections = selected("inspection", table, keys, counts);
        inspections.addAll(children("inspection", "hive_id", hives, counts));
        Set<String> photos = selected("photo", table, keys, counts);
        photos.addAll(children("photo", "hive_id", hives, counts));
        Set<String> stays = selected("stay", table, keys, counts);
        stays.addAll(children("stay", "keeper_id", keepers, counts));
        List<Change> changes = new ArrayList<>();
        for (String daughter : children("hive", "mother_id", hives, counts)) {
            if (!hives.contains(daughter)) {
                alter("hive", daughter, "mother_id", null, changes);
            }
        }
        for (String inspection : children("inspection", "keeper_id", keepers, counts)) {
            if (!inspections.contains(inspection)) {
                boolean takenOver = Integer.parseInt(inspection) >= TAKEN_OVER;
                alter("inspection", inspection, "keeper_id", takenOver ? "" + SUCCESSOR : null, changes);
            }
        }
        inspections.forEach(key -> remove("inspection", key, changes));
        photos.forEach(key -> remove("photo", key, changes));
        for (String key : stays) {
            if (hard) {
                remove("stay", key, changes);
            } else if (isLast(key) && rows("stay").get(key).get("apiary_no") != null) {
                close(key, day, changes);
            }
        }
        for (String key : hives) {
            removeOrMark("hive", key, hard, changes);
        }
        for (String key : keepers) {
            removeOrMark("keeper", key, hard, changes);
        }
        return changes;
    }

    /** Tells whether something stands in the way of taking changes back that were made in one turn. */
    boolean hinders(List<Change> changes, int turn) {
        Set<String> coming = new HashSet<>();
        changes.stream().filter(Removed.class::isInstance).forEach(change -> coming.add(change.table() + change.key()));
        return changes.stream().anyMatch(change -> hinders(change, coming) || comesBelowAnEnded(change, turn));
    }

    /** Whether it would be active below a parent that was marked since. */
    private boolean comesBelowAnEnded(Change change, int turn) {
        Map<String, String> row = rows(change.table()).get(change.key());
        Map<String, String> links = LINKS.get(change.table());
        if (change instanceof Removed removed) {
            return !"1".equals(removed.row().get("gone"))
                    && links.entrySet().stream()
                            .anyMatch(link ->
                                    isEndedSince(link.getValue(), removed.row().get(link.getKey()), turn));
        }
        if (change instanceof Altered altered && standsAsLeft(altered)) {
            return altered.marks()
                    ? links.entrySet().stream()
                            .anyMatch(link -> isEndedSince(link.getValue(), row.get(link.getKey()), turn))
                    : !"1".equals(row.get("gone")) && isEndedSince(links.get(altered.column()), altered.before(), turn);
        }
        return change instanceof Closed closed
                && standsAsLeft(closed)
                && isEndedSince("keeper", rows("stay").get(closed.closing()).get("keeper_id"), turn);
    }

    private boolean standsAsLeft(Closed closed) {
        return rows("stay").containsKey(closed.closing()) && isLast(closed.closing());
    }

    private boolean isEndedSince(String parent, String key, int turn) {
        return key != null
                && rows(parent).containsKey(key)
                && "1".equals(rows(parent).get(key).get("gone"))
                && marked.getOrDefault(parent + key, -1) > turn;
    }

    /** Remembers in which turn records were marked. */
    void remember(List<Change> changes, int turn) {
        changes.stream()
                .filter(change -> change instanceof Altered altered && altered.marks())
                .forEach(change -> marked.put(change.table() + change.key(), turn));
    }

    private boolean hinders(Change change, Set<String> coming) {
        Map<String, String> now = rows(change.table()).get(change.key());
        if (change instanceof Removed removed) {
            return now != null
                    || LINKS.get(removed.table()).entrySet().stream()
                            .anyMatch(link ->
                                    isMissing(link.getValue(), removed.row().get(link.getKey()), coming));
        }
        if (change instanceof Altered altered && !altered.marks()) {
            return standsAsLeft(altered)
                    && isMissing(LINKS.get(altered.table()).get(altered.column()), altered.before(), coming);
        }
        return now == null;
    }

    private boolean isMissing(String parent, String key, Set<String> coming) {
        return key != null && !rows(parent).containsKey(key) && !coming.contains(parent + key);
    }

    /** Takes back those of the changes that nobody has changed since, and tells how many. */
    int takeBack(List<Change> changes) {
        int back = 0;
        for (Change change : changes) {
            if (change instanceof Removed removed) {
                put(removed.table(), removed.key(), removed.row());
                back++;
            } else if (change instanceof Altered altered && standsAsLeft(altered)) {
                rows(altered.table()).get(altered.key()).put(altered.column(), altered.before());
                back++;
            } else if (change instanceof Closed closed && standsAsLeft(closed)) {
                rows("stay").remove(closed.closing());
                back++;
            }
        }
        return back;
    }

    private boolean standsAsLeft(Altered altered) {
        Map<String, String> now = rows(altered.table()).get(altered.key());
        return now != null
                && (altered.after() == null
                        ? now.get(altered.column()) == null
                        : altered.after().equals(now.get(altered.column())));
    }

    private Set<String> selected(String table, String asked, Set<String> keys, Predicate<Map<String, String>> counts) {
        Set<String> selected = new TreeSet<>();
        if (table.equals(asked)) {
            rows(table).forEach((key, row) -> {
                if (keys.contains(key) && counts.test(row)) {
                    selected.add(key);
                }
            });
        }
        return selected;
    }

    private Set<String> children(
            String table, String column, Set<String> parents, Predicate<Map<String, String>> counts) {
        Set<String> children = new TreeSet<>();
        rows(table).forEach((key, row) -> {
            if (row.get(column) != null && parents.contains(row.get(column)) && counts.test(row)) {
                children.add(key);
            }
        });
        return children;
    }

    private void removeOrMark(String table, String key, boolean hard, List<Change> changes) {
        if (hard) {
            remove(table, key, changes);
        } else {
            alter(table, key, "gone", "1", changes);
        }
    }

    private void remove(String table, String key, List<Change> changes) {
        changes.add(new Removed(table, key, rows(table).remove(key)));
    }

    private void alter(String table, String key, String column, String value, List<Change> changes) {
        Map<String, String> row = rows(table).get(key);
        changes.add(new Altered(table, key, column, row.get(column), value));
        row.put(column, value);
    }

    private void close(String key, String day, List<Change> changes) {
        Map<String, String> closing = new LinkedHashMap<>(rows("stay").get(key));
        closing.put("apiary_no", null);
        String its = closing.get("keeper_id") + "," + day;
        put("stay", its, closing);
        changes.add(new Closed("stay", key, its));
    }

    /** Keys of stays are a keeper and a day, so that those of one keeper are in the order of their days. */
    private boolean isLast(String key) {
        String keeper = key.replaceAll(",.*", ",");
        return rows("stay").keySet().stream()
                .filter(other -> other.startsWith(keeper))
                .allMatch(other -> other.compareTo(key) <= 0);
    }
}
