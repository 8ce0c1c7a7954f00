package dev.vacancy.documents.internal;

import com.mongodb.client.MongoDatabase;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.request.WrittenRules;
import dev.vacancy.rule.RuleBook;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.bson.BsonDocument;

/**
 * What a database of documents holds, as far as samples of its collections show.
 *
 * @param collections what was seen, by name
 */
record DocumentCatalog(Map<String, SeenCollection> collections) {
    private static final String OURS = "vacancy_";
    private static final String SYSTEMS = "system.";

    /** Looks at all collections but those of the server and of ours, and adds the fields that the rules name. */
    static DocumentCatalog of(MongoDatabase database, RuleBook rules) {
        Map<String, SeenCollection> collections = new LinkedHashMap<>();
        WrittenRules written = WrittenRules.of(rules);
        List<String> names = new ArrayList<>();
        database.listCollectionNames().forEach(names::add);
        written.trail().ifPresent(trail -> names.removeAll(List.of(trail.runs(), trail.entries())));
        names.stream()
                .sorted()
                .filter(name -> !name.startsWith(OURS) && !name.startsWith(SYSTEMS))
                .forEach(name ->
                        collections.put(name, SeenCollection.of(database.getCollection(name, BsonDocument.class))));
        DocumentCatalog catalog = new DocumentCatalog(collections);
        new RuleFields(written)
                .each((name, path, type) -> catalog.named(name).ifPresent(collection -> collection.expect(path, type)));
        return catalog;
    }

    /** The collection with a name. */
    Optional<SeenCollection> named(String name) {
        return collections.values().stream()
                .filter(collection -> collection.name().equalsIgnoreCase(name))
                .findFirst();
    }

    /** The same as the planner sees it: no links but those that the rules name. */
    DatabaseCatalog catalog() {
        return new DatabaseCatalog(
                List.copyOf(
                        collections.values().stream().map(SeenCollection::table).toList()),
                List.of(),
                Map.of(),
                Map.of());
    }
}
