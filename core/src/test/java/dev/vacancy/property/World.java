package dev.vacancy.property;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;

/**
 * A small made-up database, as values: tables {@code t0}, {@code t1}, … with a key {@code id} and one column for each
 * link.
 *
 * @param tables how many tables there are
 * @param links the foreign keys
 * @param records for each table its records, by key; each has a value for each link of the table, in the links' order
 */
record World(int tables, List<Link> links, List<TreeMap<Integer, List<Integer>>> records) {
    /** What the schema says of the children. */
    enum OnDelete {
        CASCADE,
        SET_NULL,
        NO_ACTION
    }

    /**
     * A foreign key.
     *
     * @param number tells it from the others; its column is {@code f} and that number
     */
    record Link(int number, int child, int parent, boolean nullable, OnDelete onDelete) {
        String column() {
            return "f" + number;
        }
    }

    List<Link> linksOf(int child) {
        return links.stream().filter(link -> link.child() == child).toList();
    }

    /** The statements that make this database in the current schema. */
    List<String> script() {
        List<String> script = new ArrayList<>();
        for (int table = 0; table < tables; table++) {
            String columns = linksOf(table).stream()
                    .map(link -> ", " + link.column() + " int" + (link.nullable() ? "" : " not null"))
                    .collect(Collectors.joining());
            script.add("create table t" + table + " (id int primary key" + columns + ")");
        }
        for (int table = 0; table < tables; table++) {
            for (Map.Entry<Integer, List<Integer>> row : records.get(table).entrySet()) {
                String values =
                        row.getValue().stream().map(value -> ", " + value).collect(Collectors.joining());
                script.add("insert into t" + table + " values (" + row.getKey() + values + ")");
            }
        }
        for (Link link : links) {
            script.add("alter table t" + link.child() + " add foreign key (" + link.column() + ") references t"
                    + link.parent() + " (id) on delete "
                    + link.onDelete().name().replace('_', ' '));
        }
        return script;
    }

    /** The contents as a query on each table in the order of the keys would give them. */
    List<String> contents() {
        List<String> contents = new ArrayList<>();
        for (int table = 0; table < tables; table++) {
            List<String> rows = records.get(table).entrySet().stream()
                    .map(row -> row.getKey()
                            + row.getValue().stream().map(value -> "|" + value).collect(Collectors.joining()))
                    .toList();
            contents.add("t" + table + ": " + rows);
        }
        return contents;
    }

    String[] tableNames() {
        String[] names = new String[tables];
        for (int table = 0; table < tables; table++) {
            names[table] = "t" + table;
        }
        return names;
    }
}
