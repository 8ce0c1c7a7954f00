package dev.vacancy.property;

import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/** What a deletion should do, written down as simply as possible and without any thought of speed. */
final class Model {
    private Model() {}

    /** What comes of it. */
    enum End {
        /** It can be done. */
        DONE,
        /** A child forbids it, or there is nobody to take one over. */
        FORBIDDEN,
        /** A child's default names nobody who stays, which only the database finds out. */
        FAILED
    }

    /**
     * What a deletion comes to.
     *
     * @param skipped the selected records that are left out
     * @param after the world afterwards, the same as before unless it is done
     */
    record Result(End end, Set<Integer> skipped, World after) {}

    /** Deletes all of the selected records or none. */
    static Result delete(World world, int root, Collection<Integer> keys) {
        List<Set<Integer>> going = going(world, root, keys);
        boolean refused = world.traits()
                .refusal()
                .filter(refusal -> going.get(refusal.table()).contains(refusal.id()))
                .filter(refusal -> world.records().get(refusal.table()).containsKey(refusal.id()))
                .isPresent();
        End end = refused ? End.FAILED : End.DONE;
        List<TreeMap<Integer, List<Integer>>> left = new ArrayList<>();
        for (int table = 0; table < world.tables(); table++) {
            TreeMap<Integer, List<Integer>> rows = new TreeMap<>();
            for (Map.Entry<Integer, List<Integer>> row :
                    world.records().get(table).entrySet()) {
                if (!going.get(table).contains(row.getKey())) {
                    List<Integer> values = new ArrayList<>(row.getValue());
                    for (World.Link link : world.linksOf(table)) {
                        End ofLink = change(world, going, link, row.getKey(), values);
                        end = end == End.FORBIDDEN || ofLink == End.DONE ? end : ofLink;
                    }
                    rows.put(row.getKey(), values);
                }
            }
            left.add(rows);
        }
        return new Result(end, Set.of(), end == End.DONE ? world.with(left) : world);
    }

    /** Deletes those of the selected records from which no child that blocks can be reached. */
    static Result deleteUnblocked(World world, int root, Collection<Integer> keys) {
        Set<Integer> remaining = new TreeSet<>(keys);
        Set<Integer> skipped = new TreeSet<>();
        while (true) {
            List<Set<Integer>> going = going(world, root, remaining);
            Set<Integer> blocked = new TreeSet<>(remaining);
            blocked.removeIf(key -> !reachesBlocker(world, reached(world, root, key, going), going));
            if (blocked.isEmpty()) {
                Result rest = delete(world, root, remaining);
                return new Result(rest.end(), skipped, rest.after());
            }
            remaining.removeAll(blocked);
            skipped.addAll(blocked);
        }
    }

    private static boolean reachesBlocker(World world, List<Set<Integer>> reached, List<Set<Integer>> going) {
        return world.links().stream()
                .anyMatch(link -> world.records().get(link.child()).entrySet().stream()
                        .filter(row -> !going.get(link.child()).contains(row.getKey()))
                        .filter(row -> link.caseOf(row.getKey()).action() == World.Action.BLOCK)
                        .map(row ->
                                row.getValue().get(world.linksOf(link.child()).indexOf(link)))
                        .anyMatch(parent ->
                                parent != null && reached.get(link.parent()).contains(parent)));
    }

    private static List<Set<Integer>> going(World world, int root, Collection<Integer> keys) {
        List<Set<Integer>> going = new ArrayList<>();
        for (int table = 0; table < world.tables(); table++) {
            going.add(new TreeSet<>());
        }
        going.get(root).addAll(keys);
        while (growOnce(world, going, going)) {
            // until nothing more goes
        }
        return going;
    }

    /** What one of the selected records takes along, alone or together with others. */
    private static List<Set<Integer>> reached(World world, int root, int key, List<Set<Integer>> going) {
        List<Set<Integer>> reached = new ArrayList<>();
        for (int table = 0; table < world.tables(); table++) {
            reached.add(new TreeSet<>());
        }
        reached.get(root).add(key);
        while (growOnce(world, reached, going)) {
            // until nothing more is reached
        }
        return reached;
    }

    private static boolean growOnce(World world, List<Set<Integer>> reached, List<Set<Integer>> going) {
        boolean grown = false;
        for (World.Link link : world.links()) {
            int position = world.linksOf(link.child()).indexOf(link);
            for (Map.Entry<Integer, List<Integer>> row :
                    world.records().get(link.child()).entrySet()) {
                Integer parent = row.getValue().get(position);
                if (link.caseOf(row.getKey()).action() == World.Action.CASCADE
                        && parent != null
                        && reached.get(link.parent()).contains(parent)) {
                    grown |= reached.get(link.child()).add(row.getKey());
                }
                if (link.owned()
                        && parent != null
                        && reached.get(link.child()).contains(row.getKey())
                        && isLast(world, link, parent, going)) {
                    grown |= reached.get(link.parent()).add(parent);
                }
            }
        }
        return grown;
    }

    /** Whether a parent has no children on a link but those that go. */
    private static boolean isLast(World world, World.Link link, int parent, List<Set<Integer>> going) {
        int position = world.linksOf(link.child()).indexOf(link);
        return world.records().get(link.child()).entrySet().stream()
                .filter(row -> Integer.valueOf(parent).equals(row.getValue().get(position)))
                .allMatch(row -> going.get(link.child()).contains(row.getKey()));
    }

    /** Changes the foreign key of a child that stays, where its parent goes. */
    private static End change(World world, List<Set<Integer>> going, World.Link link, int id, List<Integer> values) {
        int position = world.linksOf(link.child()).indexOf(link);
        Integer parent = values.get(position);
        if (parent == null || !going.get(link.parent()).contains(parent)) {
            return End.DONE;
        }
        World.Case rule = link.caseOf(id);
        switch (rule.action()) {
            case DETACH -> values.set(position, null);
            case REASSIGN -> {
                values.set(position, rule.newParent());
                return stays(world, going, link, rule.newParent()) && !isBelow(world, going, link, rule.newParent())
                        ? End.DONE
                        : End.FORBIDDEN;
            }
            case RESET -> {
                values.set(position, link.hasDefault() ? 1 : null);
                boolean possible = link.hasDefault() ? stays(world, going, link, 1) : link.nullable();
                return possible ? End.DONE : End.FAILED;
            }
            case KEEP -> {
                // it points at nobody then, as the rule wants it
            }
            default -> {
                return End.FORBIDDEN;
            }
        }
        return End.DONE;
    }

    /** Whoever takes over children in its own table mustn't be below a record that goes: it would be its own parent in the end. */
    private static boolean isBelow(World world, List<Set<Integer>> going, World.Link link, int parent) {
        int position = world.linksOf(link.child()).indexOf(link);
        Set<Integer> passed = new TreeSet<>();
        Integer above = parent;
        while (link.child() == link.parent() && above != null && passed.add(above)) {
            above = world.records()
                    .get(link.child())
                    .getOrDefault(above, Collections.nCopies(position + 1, null))
                    .get(position);
            if (above != null && going.get(link.parent()).contains(above)) {
                return true;
            }
        }
        return false;
    }

    private static boolean stays(World world, List<Set<Integer>> going, World.Link link, int parent) {
        return world.records().get(link.parent()).containsKey(parent)
                && !going.get(link.parent()).contains(parent);
    }
}
