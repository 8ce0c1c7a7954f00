package dev.vacancy.plan;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Condition;
import dev.vacancy.failure.InvalidRequestException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Records of tables that refer to each other in a circle, sorted into levels: those that no other record of them points
 * at go first, then those that only these pointed at, and so on.
 */
final class Levels {
    private final Gathering gathering;
    private final Lookup lookup;
    private final List<Link> links;
    private final Map<Going.Member, List<Going.Member>> parents = new LinkedHashMap<>();
    private final Map<Going.Member, Integer> children = new LinkedHashMap<>();

    /**
     * Sorts nothing yet.
     *
     * @param links the links of the circle, whose foreign keys may not be null
     */
    Levels(Gathering gathering, Lookup lookup, List<Link> links) {
        this.gathering = gathering;
        this.lookup = lookup;
        this.links = links;
    }

    /**
     * Returns the deletions of the records of some tables, level by level.
     *
     * @throws InvalidRequestException when records point at each other in a circle, which it spells out
     */
    List<Step> deletions(Set<Table> tables) {
        tables.forEach(table -> gathering.going(table).members().forEach(member -> children.put(member, 0)));
        links.forEach(this::read);
        List<Step> steps = new ArrayList<>();
        List<Going.Member> level = withoutChildren(children.keySet());
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
        Going home = gathering.going(link.child());
        List<Column> identity = link.child().identity();
        List<Column> columns = new ArrayList<>(identity);
        columns.addAll(link.childColumns());
        for (List<Object> row : lookup.records(link.child(), columns, home.condition())) {
            Going.Member child = home.member(row.subList(0, identity.size()));
            gathering
                    .parentOn(link, row.subList(identity.size(), row.size()))
                    // A record that points at itself stands in nobody's way.
                    .filter(parent -> !parent.equals(child))
                    .ifPresent(parent -> {
                        parents.computeIfAbsent(child, missing -> new ArrayList<>())
                                .add(parent);
                        children.merge(parent, 1, Integer::sum);
                    });
        }
    }

    private Collection<Going.Member> release(List<Going.Member> level) {
        Set<Going.Member> released = new LinkedHashSet<>();
        for (Going.Member member : level) {
            for (Going.Member parent : parents.getOrDefault(member, List.of())) {
                children.merge(parent, -1, Integer::sum);
                released.add(parent);
            }
        }
        return released;
    }

    private List<Going.Member> withoutChildren(Collection<Going.Member> members) {
        return members.stream().filter(member -> children.get(member) == 0).toList();
    }

    private static List<Step> deletions(List<Going.Member> level) {
        Map<Table, List<List<Object>>> keys = new LinkedHashMap<>();
        level.forEach(member -> keys.computeIfAbsent(member.home().table(), missing -> new ArrayList<>())
                .add(member.key().values()));
        List<Step> steps = new ArrayList<>();
        keys.forEach((table, values) ->
                steps.add(new Step.Delete(table, Condition.among(table.identity(), values), values.size(), false)));
        return steps;
    }

    /** Goes from parent to parent until it comes to a record again: that is the circle. */
    private InvalidRequestException circle(Set<Going.Member> left) {
        List<Going.Member> way = new ArrayList<>();
        Going.Member next = left.iterator().next();
        while (!way.contains(next)) {
            way.add(next);
            next = parents.get(next).stream().filter(left::contains).findFirst().orElseThrow();
        }
        List<Going.Member> circle = new ArrayList<>(way.subList(way.indexOf(next), way.size()));
        circle.add(next);
        String records = circle.stream()
                .map(member -> member.home().table().name() + " "
                        + new Key(member.home().table().identity(), member.key().values()).text())
                .collect(Collectors.joining(" → "));
        return new InvalidRequestException(
                "The records to delete point at each other in a circle, " + records + ", by "
                        + links.stream().map(Link::toString).collect(Collectors.joining(", "))
                        + ", and none of these columns may be null.",
                "Let one of them be null, or its foreign key be deferrable, so that the deletion can begin there.");
    }
}
