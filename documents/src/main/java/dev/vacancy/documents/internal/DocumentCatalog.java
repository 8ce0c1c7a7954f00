package dev.vacancy.documents.internal;

import com.mongodb.client.MongoDatabase;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.request.WrittenRules;
import dev.vacancy.rule.RuleBook;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.bson.BsonDocument;
import org.bson.BsonString;

/**
 * What a database of documents holds, as far as samples of its collections show.
 *
 * @param collections what was seen, by name
 */
record DocumentCatalog(Map<String, SeenCollection> collections) {
    private static final String OURS = "vacancy_";
    private static final String SYSTEMS = "system.";
    private static final BsonString COLLECTION = new BsonString("collection");
    private static final BsonString VIEW = new BsonString("view");

    /** Looks at all collections but views, those of the server and of ours, and adds the fields that the rules name. */
    static DocumentCatalog of(MongoDatabase database, RuleBook rules) {
        Map<String, SeenCollection> collections = new LinkedHashMap<>();
        WrittenRules written = WrittenRules.of(rules);
        Map<String, Validator> listed = new TreeMap<>();
        for (BsonDocument one : database.listCollections(BsonDocument.class)) {
            if (!one.getString("type", COLLECTION).equals(VIEW)) {
                listed.put(one.getString("name").getValue(), Validator.of(one));
            }
        }
        written.trail().ifPresent(trail -> listed.keySet().removeAll(List.of(trail.runs(), trail.entries())));
        listed.keySet().removeIf(name -> name.startsWith(OURS) || name.startsWith(SYSTEMS));
        listed.forEach((name, validator) ->
                collections.put(name, SeenCollection.of(database.getCollection(name, BsonDocument.class), validator)));
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
