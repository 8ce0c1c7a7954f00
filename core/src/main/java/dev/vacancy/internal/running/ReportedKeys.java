package dev.vacancy.internal.running;

import dev.vacancy.Reporting;
import dev.vacancy.catalog.Key;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Step;
import dev.vacancy.internal.store.RecordReader;
import dev.vacancy.internal.store.RecordStore.Picked;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * The keys that somebody wants to know, read before anything is changed.
 *
 * @param gone those of records that go or are marked, by table
 * @param changed those of records that stay and are changed, by table
 */
record ReportedKeys(Map<String, List<Key>> gone, Map<String, List<Key>> changed) {
    static ReportedKeys of(Planned planned, Reporting reporting, DatabaseCatalog catalog, RecordReader reader) {
        Map<String, Set<Key>> gone = new LinkedHashMap<>();
        Map<String, Set<Key>> changed = new LinkedHashMap<>();
        for (String name : reporting.keysOf()) {
            String table = catalog.table(name).name();
            gone.put(table, new LinkedHashSet<>());
            changed.put(table, new LinkedHashSet<>());
        }
        // A foreign key that is only emptied so that its record can go is told with that record.
        List<Step> told = planned.steps().stream()
                .filter(step -> !(step instanceof Step.Loosen))
                .filter(step -> gone.containsKey(step.table().name()))
                .filter(step -> !step.table().identity().isEmpty())
                .toList();
        List<List<Key>> keys = reader.keys(told.stream()
                .map(step -> new Picked(step.table(), step.condition()))
                .toList());
        for (int i = 0; i < told.size(); i++) {
            Step step = told.get(i);
            Map<String, Set<Key>> reported = step instanceof Step.Delete || step instanceof Step.Mark ? gone : changed;
            reported.get(step.table().name()).addAll(keys.get(i));
        }
        return new ReportedKeys(lists(gone), lists(changed));
    }

    private static Map<String, List<Key>> lists(Map<String, Set<Key>> sets) {
        Map<String, List<Key>> lists = new LinkedHashMap<>();
        sets.forEach((table, keys) -> lists.put(table, new ArrayList<>(keys)));
        return lists;
    }
}
