package dev.vacancy.property;

import dev.vacancy.testing.Engine;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.UUID;
import java.util.function.Predicate;
import java.util.stream.Stream;

/** Keepers with hives, their photos and visitors, and what runs have done to them, as plainly as can be. */
final class Estate {
    private static final String LONG = "k".repeat(730);

    final List<Item> items = new ArrayList<>();
    final List<Run> runs = new ArrayList<>();
    final Set<String> extra = new TreeSet<>();
    private int names;

    /** A record; another one may have its key when it is gone. */
    static final class Item {
        final String table;
        final int number;
        final String name;
        Item link;
        String extra;
        String mark;
        UUID hold;

        Item(String table, int number, String name) {
            this.table = table;
            this.number = number;
            this.name = name;
        }

        boolean hasKeyOf(Item other) {
            return table.equals(other.table) && number == other.number;
        }

        /** As the trail has it. */
        String keyText() {
            return table.equals("photo") ? hex() : String.valueOf(number);
        }

        private String hex() {
            return String.format("00ff%04x", number);
        }

        private String label() {
            return "h" + number % 3;
        }

        String insertion(Engine engine) {
            String bytes = engine == Engine.POSTGRESQL ? "'\\x" + hex() + "'" : "X'" + hex() + "'";
            return switch (table) {
                case "keeper" -> "insert into keeper (code, name) values ('" + LONG + number + "', '" + name + "')";
                case "hive" ->
                    "insert into hive (label, nr, name, code) values ('" + label() + "', " + number + ", '" + name
                            + "', '" + LONG + link.number + "')";
                case "photo" ->
                    "insert into photo (sha, name, label, nr) values (" + bytes + ", '" + name + "', "
                            + (link == null ? "null, null" : "'" + link.label() + "', " + link.number) + ")";
                default -> "insert into visitor (visitor_id, name) values (" + number + ", '" + name + "')";
            };
        }

        String row() {
            String key = switch (table) {
                case "keeper" -> LONG + number + "|" + name;
                case "hive" -> label() + "|" + number + "|" + name + "|" + LONG + link.number;
                case "photo" ->
                    hex() + "|" + name + "|" + (link == null ? "null|null" : link.label() + "|" + link.number);
                default -> number + "|" + name + "|" + mark;
            };
            return table + " " + key + "|" + extra;
        }

        @Override
        public String toString() {
            return table + " " + number + " (" + name + ")";
        }
    }

    enum Kind {
        GONE,
        MARKED,
        DETACHED
    }

    /** What a run has done to one record, and what that was before. */
    static final class Entry {
        final Kind kind;
        final Item item;
        final Item link;
        final String extra;
        final String mark;
        boolean back;
        boolean erased;

        Entry(Kind kind, Item item) {
            this.kind = kind;
            this.item = item;
            this.link = item.link;
            this.extra = item.extra;
            this.mark = item.mark;
        }

        boolean isAway() {
            return !back && !erased;
        }
    }

    static final class Run {
        final UUID id;
        final Instant at;
        final String day;
        final List<Entry> entries = new ArrayList<>();
        boolean aged;

        Run(UUID id, Instant at, String day) {
            this.id = id;
            this.at = at;
            this.day = day;
        }

        @Override
        public String toString() {
            return "of "
                    + entries.stream()
                            .map(entry -> entry.kind + " " + entry.item)
                            .toList();
        }
    }

    static String columns(String table, Engine engine) {
        String bytes = switch (engine) {
            case POSTGRESQL -> "encode(sha, 'hex')";
            case H2 -> "rawtohex(sha)";
            default -> "lower(hex(sha))";
        };
        return switch (table) {
            case "keeper" -> "code, name";
            case "hive" -> "label, nr, name, code";
            case "photo" -> bytes + ", name, label, nr";
            default -> "visitor_id, name, left_on";
        };
    }

    Set<String> rows() {
        Set<String> rows = new TreeSet<>();
        items.forEach(item -> rows.add(item.row()));
        return rows;
    }

    Optional<Item> any(Random random, Predicate<Item> such) {
        List<Item> found = items.stream().filter(such).toList();
        return found.isEmpty() ? Optional.empty() : Optional.of(found.get(random.nextInt(found.size())));
    }

    Optional<Run> anyRun(Random random) {
        return runs.isEmpty() ? Optional.empty() : Optional.of(runs.get(random.nextInt(runs.size())));
    }

    private Optional<Item> withKeyOf(Item other) {
        return items.stream().filter(other::hasKeyOf).findFirst();
    }

    Item added(Random random) {
        List<String> tables = Stream.of("keeper", "hive", "photo", "visitor")
                .filter(table -> table.equals("keeper")
                        || table.equals("visitor")
                        || items.stream().anyMatch(item -> item.table.equals(table.equals("hive") ? "keeper" : "hive")))
                .toList();
        String table = tables.get(random.nextInt(tables.size()));
        Item item;
        do {
            item = new Item(table, random.nextInt(12 + names / 4), "n" + names);
        } while (withKeyOf(item).isPresent());
        names++;
        if (table.equals("hive") || table.equals("photo")) {
            String parent = table.equals("hive") ? "keeper" : "hive";
            item.link = any(random, each -> each.table.equals(parent)).orElseThrow();
        }
        items.add(item);
        return item;
    }

    /** Whatever a deletion would reach: the record, what goes with it, and what is detached. */
    List<Item> touchedBy(Item item) {
        List<Item> touched = new ArrayList<>(List.of(item));
        for (int i = 0; i < touched.size(); i++) {
            Item parent = touched.get(i);
            items.stream().filter(each -> each.link == parent).forEach(touched::add);
        }
        return touched;
    }

    void delete(Item item, boolean hard, UUID id, Instant at, String day) {
        Run run = new Run(id, at, day);
        if (item.table.equals("visitor") && !hard) {
            run.entries.add(new Entry(Kind.MARKED, item));
            item.mark = day;
        } else {
            for (Item touched : touchedBy(item)) {
                boolean detached = touched.table.equals("photo") && touched != item;
                run.entries.add(new Entry(detached ? Kind.DETACHED : Kind.GONE, touched));
                if (!detached) {
                    items.remove(touched);
                }
            }
            run.entries.stream().filter(entry -> entry.kind == Kind.DETACHED).forEach(entry -> entry.item.link = null);
        }
        runs.add(run);
    }

    List<Item> marked(String before) {
        return items.stream()
                .filter(item -> item.mark != null && item.mark.compareTo(before) < 0)
                .toList();
    }

    void purge(List<Item> over, UUID id, Instant at) {
        Run run = new Run(id, at, "");
        over.forEach(item -> run.entries.add(new Entry(Kind.GONE, item)));
        items.removeAll(over);
        runs.add(run);
    }

    /** What is gone, told by a run that is still known, and whose key nobody has now. */
    List<Entry> gone() {
        return runs.stream()
                .filter(run -> !run.aged)
                .flatMap(run -> run.entries.stream())
                .filter(entry -> entry.kind == Kind.GONE && entry.isAway())
                .filter(entry -> withKeyOf(entry.item).isEmpty())
                .toList();
    }

    void erase(Item item) {
        runs.stream()
                .flatMap(run -> run.entries.stream())
                .filter(entry -> entry.item.hasKeyOf(item))
                .forEach(entry -> entry.erased = true);
    }

    void age(Instant before) {
        runs.stream().filter(run -> run.at.isBefore(before)).forEach(run -> run.aged = true);
    }

    private static boolean comes(Run run, Item parent) {
        return run.entries.stream()
                .anyMatch(entry -> entry.kind == Kind.GONE && entry.isAway() && entry.item.hasKeyOf(parent));
    }

    private boolean hasParent(Run run, Item parent) {
        return parent == null || withKeyOf(parent).isPresent() || comes(run, parent);
    }

    boolean hinders(Run run) {
        return run.entries.stream().filter(Entry::isAway).anyMatch(entry -> switch (entry.kind) {
            case GONE ->
                withKeyOf(entry.item).isPresent()
                        || !hasParent(run, entry.link)
                        || (entry.extra != null && !extra.contains(entry.item.table));
            case MARKED -> withKeyOf(entry.item).isEmpty();
            case DETACHED -> isPutBack(entry) && !hasParent(run, entry.link);
        });
    }

    private boolean isPutBack(Entry entry) {
        return items.contains(entry.item) && entry.item.link == null;
    }

    /** Returns how many records come back, or are put back. */
    long restore(Run run) {
        long back = 0;
        for (Entry entry : run.entries) {
            boolean changes = entry.isAway()
                    && switch (entry.kind) {
                        case GONE -> true;
                        case MARKED -> items.contains(entry.item) && run.day.equals(entry.item.mark);
                        case DETACHED -> isPutBack(entry);
                    };
            if (changes) {
                back++;
                entry.back = true;
                undo(entry);
            }
        }
        // What is linked by its key belongs to whoever has that key.
        items.forEach(item ->
                item.link = item.link == null ? null : withKeyOf(item.link).orElse(item.link));
        runs.remove(run);
        return back;
    }

    private void undo(Entry entry) {
        entry.item.link = entry.kind == Kind.MARKED ? null : entry.link;
        entry.item.mark = entry.mark;
        if (entry.kind == Kind.GONE) {
            entry.item.extra = extra.contains(entry.item.table) ? entry.extra : null;
            items.add(entry.item);
        }
    }
}
