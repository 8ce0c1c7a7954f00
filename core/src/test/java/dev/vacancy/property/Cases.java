package dev.vacancy.property;

import dev.vacancy.criteria.Criteria;
import dev.vacancy.criteria.Selection;
import dev.vacancy.property.World.Action;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;

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
                    ? from.where(Criteria.parse(
                            parent().map(link -> "f" + link.number() + ".id").orElse("id") + " <= " + keys.get(0)))
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

    /** Numbers that a link is made of. */
    private record LinkNumbers(int child, int parent, int nullable, int onDelete, int declared, int rule, int clause) {}

    /** How records are picked, and which tables stand in another schema. */
    private record Manner(Pick pick, boolean skipping, List<Boolean> elsewhere) {}

    static Arbitrary<Case> all() {
        Arbitrary<Integer> number = Arbitraries.integers().between(0, 1_000);
        Arbitrary<LinkNumbers> link = Combinators.combine(number, number, number, number, number, number, number)
                .as(LinkNumbers::new);
        return Combinators.combine(
                        Arbitraries.integers().between(1, MOST_TABLES),
                        Arbitraries.of(false, false, false, true).list().ofSize(MOST_TABLES),
                        link.list().ofMaxSize(MOST_LINKS),
                        Arbitraries.integers().between(0, MOST_ROWS).list().ofSize(MOST_TABLES),
                        number.list().ofSize(MOST_LINKS * MOST_ROWS),
                        number,
                        Arbitraries.integers()
                                .between(1, MOST_ROWS + 1)
                                .list()
                                .ofMinSize(1)
                                .ofMaxSize(3),
                        Combinators.combine(
                                        Arbitraries.of(Pick.values()),
                                        Arbitraries.of(false, false, true),
                                        Arbitraries.of(false, false, false, true)
                                                .list()
                                                .ofSize(MOST_TABLES))
                                .as(Manner::new))
                .as((tables, composite, links, rows, choices, root, keys, manner) -> new Case(
                        world(tables, root % tables, composite, manner.elsewhere(), links, rows, choices),
                        root % tables,
                        manner.pick(),
                        keys,
                        manner.skipping()));
    }

    private static World world(
            int tables,
            int root,
            List<Boolean> composite,
            List<Boolean> elsewhere,
            List<LinkNumbers> numbers,
            List<Integer> rows,
            List<Integer> choices) {
        List<World.Link> links = new ArrayList<>();
        for (LinkNumbers from : numbers) {
            links.add(link(links.size(), from, tables, rows));
        }
        // Of the tables with a composite key, those that nothing links to do without one.
        Set<Integer> keyless = IntStream.range(0, tables)
                .filter(table -> table != root && composite.get(table))
                .filter(table -> links.stream().noneMatch(link -> link.parent() == table))
                .boxed()
                .collect(Collectors.toSet());
        World empty = new World(tables, composite, keyless, positions(elsewhere), World.Schemas.NONE, links, List.of());
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
        return new World.Link(number, child, parent, nullable, onDelete, declared, cases(from, nullable, declared));
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
