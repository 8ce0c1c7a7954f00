package dev.vacancy.hibernate;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.hibernate.MappedLink.Treatment;
import dev.vacancy.internal.request.GivenClause;
import dev.vacancy.internal.request.RuleDerivation;
import dev.vacancy.internal.request.WrittenRules;
import dev.vacancy.internal.request.WrittenRules.MarkerOfTable;
import dev.vacancy.internal.request.WrittenRules.OwnedParent;
import dev.vacancy.internal.request.WrittenRules.RuleOnLink;
import dev.vacancy.internal.request.WrittenRules.SoftTable;
import dev.vacancy.internal.request.WrittenRules.UndeclaredLink;
import dev.vacancy.internal.request.WrittenRules.VersionColumn;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.Rule;
import dev.vacancy.rule.SoftDelete;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/** Makes rules of a mapping for the schema that there is. */
final class Derivation {
    private final Mapping mapping;
    private final Catalog catalog;
    private final List<UndeclaredLink> undeclared = new ArrayList<>();
    private final List<RuleOnLink> rules = new ArrayList<>();
    private final List<OwnedParent> owned = new ArrayList<>();
    private final List<MarkerOfTable> markers = new ArrayList<>();
    private final List<SoftTable> soft = new ArrayList<>();
    private final List<VersionColumn> versions = new ArrayList<>();
    private final List<DerivedRule> derived = new ArrayList<>();
    private final List<Finding> findings;
    private final Set<MappedTable> missing = new LinkedHashSet<>();

    private Derivation(Mapping mapping, Catalog catalog) {
        this.mapping = mapping;
        this.catalog = catalog;
        this.findings = new ArrayList<>(mapping.findings());
    }

    static Derivation of(Mapping mapping, Catalog catalog) {
        Derivation derivation = new Derivation(mapping, catalog);
        derivation.deriveLinks();
        derivation.deriveSoftTables();
        derivation.deriveVersions();
        return derivation;
    }

    RuleDerivation.Derived result() {
        return new RuleDerivation.Derived(
                new WrittenRules(
                        undeclared,
                        rules,
                        owned,
                        List.of(),
                        markers,
                        List.of(),
                        List.of(),
                        soft,
                        versions,
                        List.of(),
                        List.of(),
                        Optional.empty(),
                        List.of(),
                        List.of(),
                        Set.of(),
                        RuleDerivation.NONE),
                findings);
    }

    /** What was derived, for people. */
    List<DerivedRule> rules() {
        return derived.stream()
                .sorted(Comparator.comparing(DerivedRule::where).thenComparing(DerivedRule::rule))
                .toList();
    }

    /** Where a foreign key stands, and where it points to. */
    private record Ends(Table child, List<Column> foreignKey, Table parent, List<Column> key) {
        String where() {
            return place(child, foreignKey);
        }

        Optional<Link> declaredIn(Catalog catalog) {
            return catalog.linksFrom(child).stream()
                    .filter(Link::declared)
                    .filter(link -> link.parent().equals(parent)
                            && Set.copyOf(link.childColumns()).equals(Set.copyOf(foreignKey)))
                    .findFirst();
        }
    }

    private static String place(Table table, List<Column> columns) {
        List<String> names = columns.stream().map(Column::name).toList();
        return table.name() + "." + (names.size() == 1 ? names.get(0) : "(" + String.join(", ", names) + ")");
    }

    private void deriveLinks() {
        Map<Ends, List<MappedLink>> byEnds = new LinkedHashMap<>();
        for (MappedLink link : mapping.links()) {
            ends(link)
                    .ifPresent(ends -> byEnds.computeIfAbsent(ends, news -> new ArrayList<>())
                            .add(link));
        }
        byEnds.forEach((ends, said) -> {
            if (isAmbiguous(ends, byEnds.keySet())) {
                finding(
                        said.get(0).origin(),
                        "the columns " + ends.where()
                                + " point to records of several tables, of which no link can be made",
                        "say in the rules what becomes of them");
            } else {
                derive(ends, said);
            }
        });
    }

    /** Without a constraint of the database's nobody can tell which of several parents a column means. */
    private boolean isAmbiguous(Ends ends, Set<Ends> all) {
        return ends.declaredIn(catalog).isEmpty()
                && Stream.concat(
                                all.stream(),
                                catalog.linksFrom(ends.child()).stream()
                                        .filter(Link::declared)
                                        .map(link -> new Ends(
                                                link.child(),
                                                link.childColumns(),
                                                link.parent(),
                                                link.parentColumns())))
                        .anyMatch(other -> other.where().equals(ends.where())
                                && !other.parent().equals(ends.parent()));
    }

    private Optional<Ends> ends(MappedLink link) {
        Optional<Table> child = table(link.child(), link.origin());
        Optional<Table> parent = table(link.parent(), link.origin());
        if (child.isEmpty() || parent.isEmpty()) {
            return Optional.empty();
        }
        Optional<List<Column>> foreignKey = columns(child.get(), link.foreignKey(), link.origin());
        Optional<List<Column>> key = columns(parent.get(), link.key(), link.origin());
        if (foreignKey.isEmpty() || key.isEmpty()) {
            return Optional.empty();
        }
        return Optional.of(new Ends(child.get(), foreignKey.get(), parent.get(), key.get()));
    }

    private Optional<Table> table(MappedTable mapped, String origin) {
        Optional<Table> found = mapped.in(catalog);
        if (found.isEmpty() && missing.add(mapped)) {
            finding(
                    origin,
                    "it is mapped to the table " + mapped + ", which isn't there",
                    "correct the mapping, add the table, or name its schema in the rules");
        }
        return found;
    }

    private Optional<List<Column>> columns(Table table, List<String> names, String origin) {
        Optional<List<Column>> found = MappedTable.columns(table, names);
        if (found.isEmpty()) {
            finding(
                    origin,
                    "it is mapped to " + String.join(", ", names) + " of " + table.name() + ", which isn't there",
                    "correct the mapping, or add the column");
        }
        return found;
    }

    private void derive(Ends ends, List<MappedLink> said) {
        MappedLink strongest =
                said.stream().min(Comparator.comparing(MappedLink::treatment)).orElseThrow();
        said.stream()
                .filter(MappedLink::owned)
                .findFirst()
                .filter(owner -> strongest.treatment() != Treatment.PART)
                .ifPresent(owner -> deriveOwned(ends, owner));
        Optional<Link> declared = ends.declaredIn(catalog);
        if (declared.isEmpty()) {
            deriveUndeclared(ends, strongest, said.stream().anyMatch(MappedLink::enforced));
            return;
        }
        String where = declared.get().where();
        switch (strongest.treatment()) {
            case PART -> rule(where, sharesKey(ends) ? Rule.PART_OF : Rule.CASCADE, strongest);
            case CASCADE -> rule(where, Rule.CASCADE, strongest);
            case DETACH -> {
                if (ends.foreignKey().stream().allMatch(Column::nullable)) {
                    rule(where, Rule.DETACH, strongest);
                } else {
                    finding(
                            strongest.origin(),
                            "the mapper empties " + where + " when the parent goes, but it may not be null",
                            "let it be null, or let the association cascade");
                }
            }
            case KEEP, DATABASE, REFERENCE -> compareNullable(where, ends, strongest);
        }
    }

    private void deriveOwned(Ends ends, MappedLink said) {
        if (ends.child().identity().isEmpty() || ends.child().equals(ends.parent())) {
            finding(
                    said.origin(),
                    "the mapper deletes what " + ends.where()
                            + " points to along with it, of which no rule can be made: "
                            + (ends.child().identity().isEmpty()
                                    ? "records of " + ends.child().name() + " have no key"
                                    : "both are records of one table"),
                    "give the table a key, or delete that by itself");
            return;
        }
        owned.add(new OwnedParent(origin(said), ends.where()));
        derived.add(new DerivedRule(ends.where(), "owns its parent", origin(said)));
    }

    private static boolean sharesKey(Ends ends) {
        return ends.child().primaryKey().equals(ends.foreignKey());
    }

    private void compareNullable(String where, Ends ends, MappedLink said) {
        boolean nullable = ends.foreignKey().stream().anyMatch(Column::nullable);
        if (said.treatment() == Treatment.REFERENCE && said.optional() && !nullable) {
            finding(
                    said.origin(),
                    "it is optional by the mapping, but " + where + " may not be null",
                    "say optional = false, or let it be null");
        }
    }

    /** Without a constraint nobody but the rules knows of the link, so that one of them has to decide. */
    private void deriveUndeclared(Ends ends, MappedLink said, boolean enforced) {
        String where = ends.where();
        if (enforced) {
            finding(
                    said.origin(),
                    "the mapping takes the foreign key " + where + " for enforced, and the schema doesn't declare it",
                    "declare it, or say in the mapping that there is no constraint");
        }
        undeclared.add(new UndeclaredLink(origin(said), where, place(ends.parent(), ends.key())));
        switch (said.treatment()) {
            case PART, CASCADE, DATABASE -> rule(where, Rule.CASCADE, said);
            case DETACH -> rule(where, Rule.DETACH, said);
            case KEEP -> rule(where, Rule.KEEP, said);
            case REFERENCE -> rule(where, Rule.BLOCK, said);
        }
    }

    private void rule(String where, Rule rule, MappedLink said) {
        Clause clause = new GivenClause(rule, Optional.empty(), Optional.of(origin(said) + " says so"), List.of());
        rules.add(new RuleOnLink(origin(said), where, List.of(clause)));
        derived.add(new DerivedRule(where, rule.toString(), origin(said)));
    }

    private static String origin(MappedLink link) {
        return link.origin() + " (" + link.why() + ")";
    }

    private void deriveSoftTables() {
        for (Mapping.SoftTable marked : mapping.softTables()) {
            table(marked.table(), marked.origin()).ifPresent(table -> {
                if (columns(table, List.of(marked.column()), marked.origin()).isPresent()) {
                    String origin = marked.origin() + " (soft delete)";
                    markers.add(new MarkerOfTable(origin, table.name(), marked.marker()));
                    soft.add(new SoftTable(origin, table.name(), SoftDelete.defaults()));
                    derived.add(new DerivedRule(table.name(), "soft, marked by " + marked.column(), origin));
                }
            });
        }
    }

    private void deriveVersions() {
        for (Mapping.VersionOf version : mapping.versions()) {
            table(version.table(), version.origin())
                    .flatMap(table -> columns(table, List.of(version.column()), version.origin())
                            .map(columns -> place(table, columns)))
                    .ifPresent(place -> {
                        String origin = version.origin() + " (version)";
                        versions.add(new VersionColumn(origin, place));
                        derived.add(new DerivedRule(place, "counts changes", origin));
                    });
        }
    }

    private void finding(String where, String why, String remedy) {
        findings.add(new Finding(Finding.Kind.MAPPING, where, why, remedy));
    }
}
