package dev.vacancy.internal.planning;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.rules.LinkRule;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.RecordStore;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Finds the parents that take over the children of others. Each must be there, be active and stay. */
final class NewParents {
    private final Rules rules;
    private final Clock clock;
    private final Map<Link, Key> requested;
    private final RecordSets sets;
    private final RecordStore store;
    private Optional<InvalidRequestException> refusal = Optional.empty();

    NewParents(Rules rules, Clock clock, Map<Link, Key> requested, RecordSets sets) {
        this.rules = rules;
        this.clock = clock;
        this.requested = requested;
        this.sets = sets;
        this.store = sets.store();
    }

    /** Who takes over: whom the request names, or else the rule. */
    Optional<Key> of(LinkRule rule) {
        return Optional.ofNullable(requested.get(rule.link())).or(rule::newParent);
    }

    /** What children of a new parent hold as their foreign key; nothing if it can't take over, and {@link #refusal} says why. */
    Optional<List<Object>> reference(Key newParent, Link link) {
        Optional<List<Object>> found = read(newParent, link);
        Optional<String> useless = found.isEmpty() ? Optional.of("isn't there") : useless(newParent, link);
        useless.ifPresent(why -> refusal = Optional.of(new InvalidRequestException(
                FailureCode.UNFIT_PARENT,
                link.parent() + " " + newParent + ", who should take over " + link.where() + ", " + why + ".",
                "Name another one.")));
        return found.filter(there -> useless.isEmpty())
                .map(reference -> link.declared() ? reference : converted(reference, link));
    }

    /** Why the request can't be planned as it stands. */
    Optional<InvalidRequestException> refusal() {
        return refusal;
    }

    private Optional<String> useless(Key newParent, Link link) {
        Table parent = link.parent();
        Optional<Condition> going = sets.condition(parent);
        if (going.isPresent() && meets(newParent, parent, going.get())) {
            return Optional.of("would go too");
        }
        if (going.isPresent() && link.child().equals(parent) && isBelow(newParent, link, going.get())) {
            return Optional.of("is below a record that goes, and would be its own parent in the end");
        }
        return rules.active(parent)
                .filter(active -> !meets(newParent, parent, Resolution.of(active, parent, rules.catalog(), clock)))
                .map(active -> "isn't active, which takes '" + active + "'");
    }

    /** Goes up from a record that refers to its own table, to whatever goes, or to the top; a circle that is there already ends it too. */
    private boolean isBelow(Key newParent, Link link, Condition going) {
        Set<List<Object>> passed = new HashSet<>();
        Optional<List<Object>> above = foreignKey(only(newParent, link.parent()), link);
        while (above.isPresent() && passed.add(above.get())) {
            Condition parent = new Condition.Among(link.parentColumns(), List.of(above.get()));
            if (store.count(link.parent(), new Condition.AllOf(List.of(parent, going))) > 0) {
                return true;
            }
            above = foreignKey(parent, link);
        }
        return false;
    }

    /** What a record holds as its foreign key, as its parent has it; nothing where it has no parent. */
    private Optional<List<Object>> foreignKey(Condition record, Link link) {
        return store.records(link.child(), link.childColumns(), record).stream()
                .filter(values -> !values.contains(null))
                .map(values -> link.declared() ? values : inTheParent(values, link))
                .findFirst();
    }

    private static List<Object> inTheParent(List<Object> values, Link link) {
        List<Object> converted = new ArrayList<>();
        for (int i = 0; i < values.size(); i++) {
            converted.add(
                    CatalogTable.of(link.parent()).convert(link.parentColumns().get(i), values.get(i)));
        }
        return converted;
    }

    private boolean meets(Key key, Table table, Condition condition) {
        return store.count(table, new Condition.AllOf(List.of(only(key, table), condition))) > 0;
    }

    /** Of what a database takes for the same key, only the record with exactly this one counts. */
    private Optional<List<Object>> read(Key key, Link link) {
        if (!RecordKey.of(key).isPossible()) {
            return Optional.empty();
        }
        Table parent = link.parent();
        int width = parent.identity().size();
        List<Column> columns = new ArrayList<>(parent.identity());
        columns.addAll(link.parentColumns());
        return store.records(parent, columns, only(key, parent)).stream()
                .filter(row -> RecordKey.of(key).isComparedByDatabase()
                        || new RecordKey(parent.identity(), row.subList(0, width))
                                .comparable()
                                .equals(RecordKey.of(key).comparable()))
                .map(row -> row.subList(width, row.size()))
                .findFirst();
    }

    private static List<Object> converted(List<Object> values, Link link) {
        List<Object> converted = new ArrayList<>();
        for (int i = 0; i < values.size(); i++) {
            converted.add(
                    CatalogTable.of(link.child()).convert(link.childColumns().get(i), values.get(i)));
        }
        return converted;
    }

    private static Condition only(Key key, Table table) {
        return new Condition.Among(table.identity(), List.of(key.values()));
    }
}
