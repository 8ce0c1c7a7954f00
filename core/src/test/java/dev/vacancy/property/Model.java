package dev.vacancy.property;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/** What a deletion should do, written down as simply as possible and without any thought of speed. */
final class Model {
    private Model() {}

    /** The world afterwards, or nothing if a child forbids the deletion. */
    static Optional<World> delete(World world, int root, Collection<Integer> keys) {
        List<Set<Integer>> going = new ArrayList<>();
        for (int table = 0; table < world.tables(); table++) {
            going.add(new TreeSet<>());
        }
        keys.stream().filter(world.records().get(root)::containsKey).forEach(going.get(root)::add);
        while (growOnce(world, going)) {
            // until nothing more goes
        }
        List<TreeMap<Integer, List<Integer>>> left = new ArrayList<>();
        for (int table = 0; table < world.tables(); table++) {
            TreeMap<Integer, List<Integer>> rows = new TreeMap<>();
            for (Map.Entry<Integer, List<Integer>> row :
                    world.records().get(table).entrySet()) {
                if (!going.get(table).contains(row.getKey())) {
                    Optional<List<Integer>> staying = staying(world, going, table, row.getKey(), row.getValue());
                    if (staying.isEmpty()) {
                        return Optional.empty();
                    }
                    rows.put(row.getKey(), staying.get());
                }
            }
            left.add(rows);
        }
        return Optional.of(world.with(left));
    }

    private static boolean growOnce(World world, List<Set<Integer>> going) {
        boolean grown = false;
        for (World.Link link : world.links()) {
            int position = world.linksOf(link.child()).indexOf(link);
            for (Map.Entry<Integer, List<Integer>> row :
                    world.records().get(link.child()).entrySet()) {
                Integer parent = row.getValue().get(position);
                if (link.caseOf(row.getKey()).action() == World.Action.CASCADE
                        && parent != null
                        && going.get(link.parent()).contains(parent)) {
                    grown |= going.get(link.child()).add(row.getKey());
                }
            }
        }
        return grown;
    }

    private static Optional<List<Integer>> staying(
            World world, List<Set<Integer>> going, int table, int id, List<Integer> values) {
        List<Integer> staying = new ArrayList<>(values);
        List<World.Link> links = world.linksOf(table);
        for (int i = 0; i < links.size(); i++) {
            World.Link link = links.get(i);
            Set<Integer> gone = going.get(link.parent());
            if (values.get(i) != null && gone.contains(values.get(i))) {
                World.Case rule = link.caseOf(id);
                boolean hasNewParent = world.records().get(link.parent()).containsKey(rule.newParent())
                        && !gone.contains(rule.newParent());
                switch (rule.action()) {
                    case DETACH -> staying.set(i, null);
                    case KEEP -> {
                        // it points at nobody then, as the rule wants it
                    }
                    case REASSIGN -> {
                        if (!hasNewParent) {
                            return Optional.empty();
                        }
                        staying.set(i, rule.newParent());
                    }
                    default -> {
                        return Optional.empty();
                    }
                }
            }
        }
        return Optional.of(staying);
    }
}
