package dev.vacancy.internal.planning;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.condition.Condition;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Records of tables that refer to each other in a circle, sorted into levels: those that no other record of them points
 * at go first, then those that only these pointed at, and so on.
 */
final class Levels {
    private final RecordSets sets;
    private final List<Link> links;
    private final Map<KeyedRecords.Member, List<KeyedRecords.Member>> parents = new LinkedHashMap<>();
    private final Map<KeyedRecords.Member, Integer> children = new LinkedHashMap<>();

    /**
     * Sorts nothing yet.
     *
     * @param links the links of the circle, whose foreign keys may not be null
     */
    Levels(RecordSets sets, List<Link> links) {
        this.sets = sets;
        this.links = links;
    }

    /**
     * Returns the deletions of the records of some tables, level by level.
     *
     * @throws InvalidRequestException when records point at each other in a circle, which it spells out
     */
    List<Step> deletions(Set<Table> tables) {
        tables.forEach(table -> sets.keyed(table).members().forEach(member -> children.put(member, 0)));
        links.forEach(this::read);
        List<Step> steps = new ArrayList<>();
        List<KeyedRecords.Member> level = withoutChildren(children.keySet());
        while (!level.isEmpty()) {
            steps.addAll(deletions(level));
            children.keySet().removeAll(Set.copyOf(level));
            level = withoutChildren(release(level));
        }
        if (!children.isEmpty()) {
            throw circle(children.keySet());
        }
        return steps;
    }

    private void read(Link link) {
        KeyedRecords home = sets.keyed(link.child());
        List<Column> identity = link.child().identity();
        List<Column> columns = new ArrayList<>(identity);
        columns.addAll(link.childColumns());
        List<List<Object>> rows =
                sets.store().records(link.child(), columns, home.condition().orElseThrow());
        List<Optional<KeyedRecords.Member>> found = sets.keyed(link.parent()).parentsOn(link, rows);
        for (int i = 0; i < rows.size(); i++) {
            KeyedRecords.Member child = home.member(rows.get(i).subList(0, identity.size()));
            found.get(i)
                    // A record that points at itself stands in nobody's way.
                    .filter(parent -> !parent.equals(child))
                    .ifPresent(parent -> {
                        parents.computeIfAbsent(child, missing -> new ArrayList<>())
                                .add(parent);
                        children.merge(parent, 1, Integer::sum);
                    });
        }
    }

    private Collection<KeyedRecords.Member> release(List<KeyedRecords.Member> level) {
        Set<KeyedRecords.Member> released = new LinkedHashSet<>();
        for (KeyedRecords.Member member : level) {
            for (KeyedRecords.Member parent : parents.getOrDefault(member, List.of())) {
                children.merge(parent, -1, Integer::sum);
                released.add(parent);
            }
        }
        return released;
    }

    private List<KeyedRecords.Member> withoutChildren(Collection<KeyedRecords.Member> members) {
        return members.stream().filter(member -> children.get(member) == 0).toList();
    }

    private static List<Step> deletions(List<KeyedRecords.Member> level) {
        Map<Table, List<List<Object>>> keys = new LinkedHashMap<>();
        level.forEach(member -> keys.computeIfAbsent(member.home().table(), missing -> new ArrayList<>())
                .add(member.key().values()));
        List<Step> steps = new ArrayList<>();
        keys.forEach((table, values) -> steps.add(new Step.Delete(
                table, new Condition.Among(table.identity(), values), OptionalLong.of(values.size()), false)));
        return steps;
    }

    /** Goes from parent to parent until it comes to a record again: that is the circle. */
    private InvalidRequestException circle(Set<KeyedRecords.Member> left) {
        List<KeyedRecords.Member> way = new ArrayList<>();
        KeyedRecords.Member next = left.iterator().next();
        while (!way.contains(next)) {
            way.add(next);
            next = parents.get(next).stream().filter(left::contains).findFirst().orElseThrow();
        }
        List<KeyedRecords.Member> circle = new ArrayList<>(way.subList(way.indexOf(next), way.size()));
        circle.add(next);
        String records = circle.stream()
                .map(member -> member.home().table().name() + " "
                        + new RecordKey(
                                        member.home().table().identity(),
                                        member.key().values())
                                .text())
                .collect(Collectors.joining(" → "));
        return new InvalidRequestException(
                FailureCode.CIRCLE,
                "The records to delete point at each other in a circle, " + records + ", by "
                        + links.stream().map(Link::toString).collect(Collectors.joining(", "))
                        + ", and none of these columns may be null.",
                "Let one of them be null, or its foreign key be deferrable, so that the deletion can begin there.");
    }
}
