package dev.vacancy.internal.check;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.catalog.OnDelete;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.rule.Finding;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.stream.Collectors;
import org.jgrapht.Graph;
import org.jgrapht.alg.connectivity.KosarajuStrongConnectivityInspector;
import org.jgrapht.graph.DirectedPseudograph;

/** Finds what is risky in the schema itself, without a look at any record. */
final class SchemaCheck {
    private final DatabaseCatalog catalog;
    private final Dialect dialect;
    private final List<Finding> findings = new ArrayList<>();

    SchemaCheck(DatabaseCatalog catalog, Dialect dialect) {
        this.catalog = catalog;
        this.dialect = dialect;
    }

    List<Finding> findings() {
        addCircles();
        catalog.links().forEach(this::addSetNull);
        catalog.links().forEach(this::addSharedKey);
        catalog.links().forEach(this::addNotEnforced);
        catalog.tables().stream().filter(table -> table.identity().isEmpty()).forEach(this::addWithoutKey);
        catalog.links().stream().filter(link -> !link.indexed()).forEach(this::addWithoutIndex);
        return findings;
    }

    private void addCircles() {
        Graph<Table, Link> firm = new DirectedPseudograph<>(Link.class);
        catalog.tables().forEach(firm::addVertex);
        catalog.links().stream().filter(this::isFirm).forEach(link -> firm.addEdge(link.child(), link.parent(), link));
        for (Set<Table> circle : new KosarajuStrongConnectivityInspector<>(firm).stronglyConnectedSets()) {
            if (circle.size() > 1) {
                String links = firm.edgeSet().stream()
                        .filter(link -> circle.contains(link.child()) && circle.contains(link.parent()))
                        .map(Link::toString)
                        .collect(Collectors.joining(", "));
                findings.add(new Finding(
                        Finding.Kind.CIRCLE,
                        links,
                        "none of these columns may be null, so of records that point at each other none can go first",
                        "let one of the columns be null"
                                + (dialect.deferral().isPresent() ? ", or its foreign key be deferrable" : "")));
            }
        }
    }

    /** Whether the records on a link have to go in the order of the link. A link to the table itself goes by levels. */
    private boolean isFirm(Link link) {
        boolean deferred =
                CatalogLink.of(link).deferrable() && dialect.deferral().isPresent();
        return link.declared()
                && CatalogLink.of(link).enforced()
                && !deferred
                && link.childColumns().stream().noneMatch(Column::nullable);
    }

    private void addSetNull(Link link) {
        if (CatalogLink.of(link).onDelete() == OnDelete.SET_NULL
                && !CatalogLink.of(link).nullable()) {
            findings.add(new Finding(
                    Finding.Kind.SET_NULL,
                    link.where(),
                    "its foreign key says ON DELETE SET NULL, but the column may not be null: deleting a "
                            + link.parent() + " with children always fails",
                    "let the column be null, or say what is meant: ON DELETE CASCADE or NO ACTION"));
        }
    }

    /** One record in two tables, as object mappers store a subclass: the child is half of it, and can go alone. */
    private void addSharedKey(Link link) {
        if (CatalogLink.of(link).sharesKey()
                && !catalog.links().contains(CatalogLink.of(link).mirrored())) {
            findings.add(new Finding(
                    Finding.Kind.SHARED_KEY,
                    link.where(),
                    "the key of " + link.child() + " is also its link to " + link.parent()
                            + ", so each record stands in both tables; deleting it from " + link.child()
                            + " alone leaves its other half behind",
                    "give this link the rule 'part of': then whichever half is selected, both go"));
        }
    }

    private void addNotEnforced(Link link) {
        if (link.declared() && !CatalogLink.of(link).enforced()) {
            findings.add(new Finding(
                    Finding.Kind.NOT_ENFORCED,
                    link.where(),
                    "its foreign key stands in the schema, but the database doesn't check it: whoever writes can leave"
                            + " orphans, and a deletion locks all of " + link.child() + " against it",
                    "have it enforced, and its triggers switched on"));
        }
    }

    private void addWithoutKey(Table table) {
        findings.add(new Finding(
                Finding.Kind.NO_KEY,
                table.name(),
                "its records can't be named, told apart or put back one by one; they only go with their parents",
                "give it a primary key"));
    }

    private void addWithoutIndex(Link link) {
        List<String> columns = link.childColumns().stream().map(Column::name).toList();
        String name = link.child().storedName().toLowerCase(Locale.ROOT) + "_by_" + String.join("_", columns);
        findings.add(new Finding(
                Finding.Kind.NO_INDEX,
                link.where(),
                "each deletion from " + link.parent() + " reads all of " + link.child() + " to find its children",
                "create index " + name + " on " + link.child() + " (" + String.join(", ", columns) + ")"));
    }
}
