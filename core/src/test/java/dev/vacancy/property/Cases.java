package dev.vacancy.property;

import dev.vacancy.Selection;
import dev.vacancy.property.World.Action;
import dev.vacancy.testing.Engine;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/** Random worlds. They are made of plain numbers, so that a failing one shrinks to a small one. */
final class Cases {
    private static final int MOST_TABLES = 8;
    private static final int MOST_LINKS = 10;
    private static final int MOST_ROWS = 6;

    private Cases() {}

    /** How the records are picked. */
    enum Pick {
        BY_KEY,
        BY_OWN_COLUMN,
        BY_PARENTS_COLUMN
    }

    /**
     * A world and what to delete from it.
     *
     * @param keys keys of the root table, some of which no record may have; a criteria goes by the first
     * @param skipping whether blocked records are left out
     */
    record Case(World world, int root, Pick pick, List<Integer> keys, boolean skipping) {
        Case in(World other) {
            return new Case(other, root, pick, keys, skipping);
        }

        Selection selection() {
            Selection.From from = Selection.of(world.name(root));
            Selection selection = parent().isPresent() || pick == Pick.BY_OWN_COLUMN
                    ? from.where(world.upTo(
                            keys.get(0),
                            parent().map(link -> world.columns(link).get(0) + ".id")
                                    .orElse("id")))
                    : from.keys(keys.stream().map(key -> world.keyOf(root, key)).toList());
            return skipping ? selection.skippingBlocked() : selection;
        }

        /** The keys of the records that are selected, as far as they are there. */
        List<Integer> selected() {
            return world.records().get(root).entrySet().stream()
                    .filter(row -> parent().isPresent()
                            ? isOfParent(parent().get(), row.getValue())
                            : pick == Pick.BY_OWN_COLUMN ? row.getKey() <= keys.get(0) : keys.contains(row.getKey()))
                    .map(Map.Entry::getKey)
                    .toList();
        }

        private boolean isOfParent(World.Link link, List<Integer> values) {
            Integer parent = values.get(world.linksOf(root).indexOf(link));
            return parent != null && parent <= keys.get(0);
        }

        private Optional<World.Link> parent() {
            return world.linksOf(root).stream()
                    .filter(link -> pick == Pick.BY_PARENTS_COLUMN && !world.isPair(link))
                    .findFirst();
        }
    }

    /**
     * Numbers that the traits of a world are made of; 0 stands for nothing odd.
     *
     * @param partitioned for each table whether it has partitions
     * @param generated for each table whether the database computes its first column
     * @param refused the table whose trigger keeps a record, and that record; 0 for none
     */
    record Oddities(int naming, int keyType, int partitioned, int generated, int refused) {
        static Oddities random(Random random) {
            return new Oddities(
                    random.nextInt(Naming.values().length),
                    Math.max(0, random.nextInt(9) - 3),
                    random.nextInt(4) == 0 ? random.nextInt(1 << MOST_TABLES) : 0,
                    random.nextInt(4) == 0 ? random.nextInt(1 << MOST_TABLES) : 0,
                    random.nextInt(4) == 0 ? random.nextInt(1_001) : 0);
        }

        List<Oddities> smaller() {
            return Stream.of(
                            new Oddities(0, keyType, partitioned, generated, refused),
                            new Oddities(naming, 0, partitioned, generated, refused),
                            new Oddities(naming, keyType, 0, generated, refused),
                            new Oddities(naming, keyType, partitioned, 0, refused),
                            new Oddities(naming, keyType, partitioned, generated, 0))
                    .filter(fewer -> !fewer.equals(this))
                    .toList();
        }

        Traits traits(int tables) {
            return new Traits(
                    List.of(Naming.values()).get(naming),
                    List.of(KeyType.values()).get(keyType),
                    bits(partitioned, tables),
                    bits(generated, tables),
                    refused == 0
                            ? Optional.empty()
                            : Optional.of(new Traits.Refusal(
                                    refused % tables, 1 + refused / tables % MOST_ROWS, refused % 3 == 0)));
        }

        private static Set<Integer> bits(int number, int tables) {
            return IntStream.range(0, tables)
                    .filter(table -> (number >> table & 1) == 1)
                    .boxed()
                    .collect(Collectors.toSet());
        }
    }

    /** Numbers that a link is made of. */
    record LinkNumbers(int child, int parent, int nullable, int onDelete, int declared, int rule, int clause) {}

    /**
     * Numbers that a case is made of. Fewer or lower ones make a smaller case, so that a failing one can be made small.
     *
     * @param rows how many records each table has
     * @param choices which parent a record has, taken in turn
     */
    record Numbers(
            int tables,
            List<Boolean> composite,
            List<Boolean> elsewhere,
            List<LinkNumbers> links,
            List<Integer> rows,
            List<Integer> choices,
            int root,
            List<Integer> keys,
            Pick pick,
            boolean skipping,
            Oddities oddities) {
        Case toCase() {
            return new Case(
                    world(tables, root % tables, composite, elsewhere, links, rows, choices, oddities),
                    root % tables,
                    pick,
                    keys,
                    skipping);
        }

        /** Cases that are a little smaller, the greatest steps first. */
        List<Numbers> smaller() {
            List<Numbers> smaller = new ArrayList<>();
            for (int i = 0; i < links.size(); i++) {
                smaller.add(with(without(links, i), rows, keys, skipping, oddities, composite, elsewhere));
            }
            for (int i = 0; i < rows.size(); i++) {
                if (rows.get(i) > 0) {
                    smaller.add(with(
                            links, replaced(rows, i, rows.get(i) - 1), keys, skipping, oddities, composite, elsewhere));
                }
            }
            for (int i = 0; i < composite.size(); i++) {
                if (composite.get(i) || elsewhere.get(i)) {
                    smaller.add(with(
                            links,
                            rows,
                            keys,
                            skipping,
                            oddities,
                            replaced(composite, i, false),
                            replaced(elsewhere, i, false)));
                }
            }
            if (keys.size() > 1) {
                smaller.add(with(links, rows, keys.subList(1, keys.size()), skipping, oddities, composite, elsewhere));
            }
            if (skipping) {
                smaller.add(with(links, rows, keys, false, oddities, composite, elsewhere));
            }
            for (Oddities fewer : oddities.smaller()) {
                smaller.add(with(links, rows, keys, skipping, fewer, composite, elsewhere));
            }
            return smaller;
        }

        private Numbers with(
                List<LinkNumbers> otherLinks,
                List<Integer> otherRows,
                List<Integer> otherKeys,
                boolean otherSkipping,
                Oddities otherOddities,
                List<Boolean> otherComposite,
                List<Boolean> otherElsewhere) {
            return new Numbers(
                    tables,
                    otherComposite,
                    otherElsewhere,
                    otherLinks,
                    otherRows,
                    choices,
                    root,
                    otherKeys,
                    pick,
                    otherSkipping,
                    otherOddities);
        }

        private static <T> List<T> without(List<T> all, int position) {
            List<T> fewer = new ArrayList<>(all);
            fewer.remove(position);
            return fewer;
        }

        private static <T> List<T> replaced(List<T> all, int position, T value) {
            List<T> other = new ArrayList<>(all);
            other.set(position, value);
            return other;
        }
    }

    /** Makes random numbers; the same seed always makes the same. */
    static Numbers random(long seed) {
        Random random = new Random(seed);
        List<LinkNumbers> links = new ArrayList<>();
        for (int count = random.nextInt(MOST_LINKS + 1); links.size() < count; ) {
            int[] number = random.ints(7, 0, 1_001).toArray();
            links.add(new LinkNumbers(number[0], number[1], number[2], number[3], number[4], number[5], number[6]));
        }
        return new Numbers(
                1 + random.nextInt(MOST_TABLES),
                quarter(random),
                quarter(random),
                links,
                random.ints(MOST_TABLES, 0, MOST_ROWS + 1).boxed().toList(),
                random.ints(MOST_LINKS * MOST_ROWS, 0, 1_001).boxed().toList(),
                random.nextInt(1_001),
                random.ints(1 + random.nextInt(3), 1, MOST_ROWS + 2).boxed().toList(),
                Pick.values()[random.nextInt(Pick.values().length)],
                random.nextInt(3) == 0,
                Oddities.random(random));
    }

    private static List<Boolean> quarter(Random random) {
        return random.ints(MOST_TABLES, 0, 4).mapToObj(number -> number == 0).toList();
    }

    private static World world(
            int tables,
            int root,
            List<Boolean> composite,
            List<Boolean> elsewhere,
            List<LinkNumbers> numbers,
            List<Integer> rows,
            List<Integer> choices,
            Oddities oddities) {
        List<World.Link> links = new ArrayList<>();
        for (LinkNumbers from : numbers) {
            links.add(link(links.size(), from, tables, rows));
        }
        // Of the tables with a composite key, those that nothing links to do without one.
        Set<Integer> keyless = IntStream.range(0, tables)
                .filter(table -> table != root && composite.get(table))
                .filter(table -> links.stream()
                        .noneMatch(link -> link.parent() == table || (link.child() == table && link.owned())))
                .boxed()
                .collect(Collectors.toSet());
        World empty = new World(
                tables,
                composite,
                keyless,
                positions(elsewhere),
                World.Schemas.NONE,
                links,
                List.of(),
                oddities.traits(tables),
                Engine.H2);
        Iterator<Integer> choice = Stream.iterate(0, i -> (i + 1) % choices.size())
                .map(choices::get)
                .iterator();
        List<TreeMap<Integer, List<Integer>>> records = new ArrayList<>();
        for (int table = 0; table < tables; table++) {
            TreeMap<Integer, List<Integer>> ofTable = new TreeMap<>();
            for (int id = 1; id <= rows.get(table); id++) {
                List<Integer> values = new ArrayList<>();
                empty.linksOf(table).forEach(link -> values.add(foreignKey(link, rows, choice.next())));
                ofTable.put(id, values);
            }
            records.add(ofTable);
        }
        return empty.with(records);
    }

    private static Set<Integer> positions(List<Boolean> chosen) {
        return IntStream.range(0, chosen.size()).filter(chosen::get).boxed().collect(Collectors.toSet());
    }

    /** A foreign key that may not be null leads to a table before its own that has records, so that no circle is firm. */
    private static World.Link link(int number, LinkNumbers from, int tables, List<Integer> rows) {
        int child = from.child() % tables;
        int parent = from.parent() % tables;
        boolean nullable = from.nullable() % 2 == 0 || parent >= child || rows.get(parent) == 0;
        boolean declared = from.declared() % 8 != 0;
        World.OnDelete[] actions = World.OnDelete.values();
        World.OnDelete onDelete = actions[from.onDelete() % actions.length];
        boolean owned = from.nullable() % 5 == 4 && child != parent;
        return new World.Link(
                number, child, parent, nullable, onDelete, declared, cases(from, nullable, declared), owned);
    }

    /** None for a third of the declared links, else a clause for all children, for some with another one before it. */
    private static List<World.Case> cases(LinkNumbers from, boolean nullable, boolean declared) {
        List<World.Case> cases = new ArrayList<>();
        if (declared && from.rule() % 3 == 0) {
            return cases;
        }
        if (from.clause() % 2 == 0) {
            cases.add(new World.Case(
                    Optional.of(from.clause() % MOST_ROWS),
                    action(from.clause(), nullable, declared),
                    1 + from.clause() % MOST_ROWS));
        }
        cases.add(
                new World.Case(Optional.empty(), action(from.rule(), nullable, declared), 1 + from.rule() % MOST_ROWS));
        return cases;
    }

    private static Action action(int number, boolean nullable, boolean declared) {
        return switch (number / 7 % 7) {
            case 0 -> Action.BLOCK;
            case 1 -> nullable ? Action.DETACH : Action.CASCADE;
            case 2 -> Action.REASSIGN;
            case 3 -> declared ? Action.CASCADE : Action.KEEP;
            default -> Action.CASCADE;
        };
    }

    private static Integer foreignKey(World.Link link, List<Integer> rows, int choice) {
        int most = rows.get(link.parent());
        if (most == 0 || (link.nullable() && choice % 4 == 0)) {
            return null;
        }
        return 1 + choice % most;
    }
}
