package dev.vacancy.documents.internal;

import com.mongodb.MongoException;
import com.mongodb.client.MongoDatabase;
import dev.vacancy.DatabaseException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.RuleBook;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.bson.BsonType;
import org.bson.BsonValue;

/** Looks for what is wrong or risky in collections and in the rules for them. */
public final class DocumentCheck {
    private static final int VALUES_READ = 1_000;
    private static final List<BsonType> TYPES =
            List.of(BsonType.OBJECT_ID, BsonType.STRING, BsonType.BINARY, BsonType.DATE_TIME, BsonType.DOCUMENT);

    private final DocumentQuery query;
    private final DocumentCatalog seen;
    private final DatabaseCatalog catalog;

    private DocumentCheck(DocumentQuery query, DocumentCatalog seen, DatabaseCatalog catalog) {
        this.query = query;
        this.seen = seen;
        this.catalog = catalog;
    }

    /** Tells what was found, the worst first. */
    public static List<Finding> findings(MongoDatabase database, RuleBook given, Clock clock) {
        try {
            DocumentCatalog seen = DocumentCatalog.of(database, given);
            Rules.Reading rules = Rules.read(given, seen.catalog(), clock);
            List<Finding> findings = new ArrayList<>();
            rules.problems()
                    .forEach(problem -> findings.add(
                            new Finding(Finding.Kind.RULE, problem.where(), problem.what(), problem.remedy())));
            int cutOff = Intention.open(database).size();
            if (cutOff > 0) {
                findings.add(
                        new Finding(
                                Finding.Kind.CUT_OFF,
                                Intention.RUNS,
                                cutOff + (cutOff == 1 ? " run is" : " runs are")
                                        + " written down and not done: at work just now, or cut off",
                                "make a Vacancy over this database a minute after the last of them has been heard of, which finishes it"));
            }
            findings.addAll(new DocumentCheck(new DocumentQuery(database), seen, rules.catalog()).ofFields());
            return findings;
        } catch (MongoException failure) {
            throw new DatabaseException("read documents", "Check the address and the user's rights.", failure);
        }
    }

    private List<Finding> ofFields() {
        List<Finding> findings = new ArrayList<>();
        for (Link link : catalog.links()) {
            types(link).ifPresent(findings::add);
            index(link).ifPresent(findings::add);
            orphans(link).ifPresent(findings::add);
        }
        seen.collections().values().forEach(collection -> validator(collection).ifPresent(findings::add));
        for (Table child : catalog.tables()) {
            for (Column column : child.columns()) {
                proposal(child, column).ifPresent(findings::add);
            }
        }
        return findings;
    }

    private static Optional<Finding> validator(SeenCollection collection) {
        return collection.validator().refuses(Change.CLAIM)
                ? Optional.of(new Finding(
                        Finding.Kind.VALIDATOR,
                        collection.name(),
                        "its validator allows no field " + Change.CLAIM
                                + ", by which a run marks documents where no transaction holds it: nothing can be deleted or changed"
                                + " here then",
                        "allow that field in the validator, a binary value"))
                : Optional.empty();
    }

    /** An id is never the text of its digits. */
    private Optional<Finding> types(Link link) {
        SeenField child = at(link.child(), link.childColumns().get(0));
        SeenField parent = at(link.parent(), link.parentColumns().get(0));
        boolean comparable = TYPES.stream().anyMatch(type -> child.has(type) && parent.has(type))
                || (child.hasNumbers() && parent.hasNumbers());
        return child.isUnseen() || parent.isUnseen() || comparable
                ? Optional.empty()
                : Optional.of(new Finding(
                        Finding.Kind.LINK_TYPES,
                        link.where(),
                        "it holds " + child.typeName() + ", as far as was seen, and " + link.parent() + "."
                                + link.parentColumns().get(0) + " is " + parent.typeName()
                                + ": no document is found by such a link",
                        "store both as values of one type"));
    }

    private SeenField at(Table table, Column column) {
        return seen.named(table.name()).orElseThrow().at(column);
    }

    private static Optional<Finding> index(Link link) {
        return link.indexed()
                ? Optional.empty()
                : Optional.of(new Finding(
                        Finding.Kind.NO_INDEX,
                        link.where(),
                        "no index begins with it, so that each deletion of a " + link.parent() + " reads all of "
                                + link.child(),
                        "create an index on it"));
    }

    private Optional<Finding> orphans(Link link) {
        String path = link.childColumns().get(0).storedName();
        String parentPath = link.parentColumns().get(0).storedName();
        long[] orphans = {0};
        Map<Object, BsonValue> portion = new LinkedHashMap<>();
        List<List<Object>> documents = new ArrayList<>();
        query.each(link.child(), new Condition.Any(), Set.of(path), document -> {
            List<Object> references = new ArrayList<>();
            Paths.values(document, path).forEach(value -> {
                portion.put(Values.comparable(value), value);
                references.add(Values.comparable(value));
            });
            documents.add(references);
            if (documents.size() == DocumentQuery.PORTION) {
                orphans[0] += orphans(link.parent(), parentPath, portion, documents);
                portion.clear();
                documents.clear();
            }
            return true;
        });
        orphans[0] += orphans(link.parent(), parentPath, portion, documents);
        return orphans[0] == 0
                ? Optional.empty()
                : Optional.of(new Finding(
                        Finding.Kind.ORPHANS,
                        link.where(),
                        String.format(
                                Locale.ROOT,
                                "%,d %s to a %s that isn't there",
                                orphans[0],
                                orphans[0] == 1 ? "document refers" : "documents refer",
                                link.parent()),
                        "delete them, or let them refer to another one"));
    }

    private long orphans(Table parent, String parentPath, Map<Object, BsonValue> values, List<List<Object>> documents) {
        Set<Object> there = query.held(parent, parentPath, values.values(), new Condition.Any());
        return documents.stream()
                .filter(references -> !there.containsAll(references))
                .count();
    }

    /** A field that is called after a collection, and whose values are ids there. */
    private Optional<Finding> proposal(Table child, Column column) {
        boolean known = catalog.linksFrom(child).stream()
                .anyMatch(link -> link.childColumns().contains(column));
        if (known || child.identity().contains(column)) {
            return Optional.empty();
        }
        return catalog.tables().stream()
                .filter(parent -> FieldName.of(column.storedName()).isOf(parent.storedName()))
                .flatMap(parent -> proposal(child, column, parent).stream())
                .findFirst();
    }

    private Optional<Finding> proposal(Table child, Column column, Table parent) {
        Map<Object, BsonValue> values = new LinkedHashMap<>();
        query.each(child, new Condition.Any(), Set.of(column.storedName()), document -> {
            Paths.values(document, column.storedName()).forEach(value -> values.put(Values.comparable(value), value));
            return values.size() < VALUES_READ;
        });
        long found = query.held(parent, DocumentQuery.ID, values.values(), new Condition.Any())
                .size();
        if (found == 0 || found * 2 < values.size()) {
            return Optional.empty();
        }
        String where = child.name() + "." + column.name();
        SeenCollection collection = seen.named(child.name()).orElseThrow();
        return Optional.of(new Finding(
                Finding.Kind.PERHAPS_LINK,
                where,
                String.format(
                        Locale.ROOT,
                        "%s %,d values read from it (%s, seen in %,d of %,d documents) are ids of %s, but no rule says so: deleting a"
                                + " %s leaves orphans here",
                        found == values.size() ? "all" : String.format(Locale.ROOT, "%,d of", found),
                        values.size(),
                        ColumnType.of(column),
                        collection.at(column).documents(),
                        collection.sampled(),
                        parent.name(),
                        parent.name()),
                "name the link and its rule in the rules: " + where + ": " + parent.name()));
    }
}
