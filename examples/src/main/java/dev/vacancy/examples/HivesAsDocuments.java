package dev.vacancy.examples;

import com.mongodb.client.MongoClient;
import com.mongodb.client.MongoClients;
import com.mongodb.client.MongoDatabase;
import com.mongodb.client.model.Filters;
import de.bwaldvogel.mongo.MongoServer;
import de.bwaldvogel.mongo.backend.memory.MemoryBackend;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.documents.Documents;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import java.util.List;
import org.bson.Document;

/** Larkmoor as documents: one hive goes as an object that the driver has found, another one directly, and the first comes back. */
public final class HivesAsDocuments {
    private static final RuleBook RULES = RuleBook.bySchema()
            .link("reading.hive", "hive")
            .on("reading.hive", Clause.cascade())
            .link("photo.hives", "hive")
            .on("photo.hives", Clause.detach())
            .trail(Trail.defaults());

    private HivesAsDocuments() {}

    public static void main(String[] arguments) {
        MongoServer server = new MongoServer(new MemoryBackend());
        try (MongoClient client = MongoClients.create(server.bindAndGetConnectionString())) {
            MongoDatabase larkmoor = client.getDatabase("larkmoor");
            fill(larkmoor);
            Vacancy vacancy = Documents.over(client, larkmoor.getName(), RULES);

            Document alder = larkmoor.getCollection("hive")
                    .find(Filters.eq("name", "Alder Two"))
                    .first();
            Plan plan = vacancy.plan(Selection.of("hive").key(alder.get("_id")), By.user("odile"));
            System.out.println(Question.about(plan).text());
            Outcome outcome = vacancy.run(Question.about(plan).answer("yes").orElseThrow());
            System.out.println("Deleted " + outcome.counts() + ", changed " + outcome.changed());

            Outcome direct = vacancy.delete(
                    Selection.of("hive")
                            .where(Criteria.parse("inspections.by = 'tam'"))
                            .expecting(1),
                    By.program("nightly"));
            System.out.println("It was " + direct.deleted().get(0).values());

            vacancy.history().restore(Approval.of(vacancy.history().planRestore(outcome.runId(), By.user("tam"))));
            System.out.println(
                    "Photos: " + larkmoor.getCollection("photo").find().first());
        } finally {
            server.shutdownNow();
        }
    }

    private static void fill(MongoDatabase larkmoor) {
        larkmoor.getCollection("hive")
                .insertMany(List.of(
                        Document.parse("{_id: 1, name: 'Alder Two', inspections: [{by: 'odile', queen: true}]}"),
                        Document.parse("{_id: 2, name: 'Birch One', inspections: [{by: 'tam', queen: false}]}")));
        larkmoor.getCollection("reading")
                .insertMany(List.of(
                        Document.parse("{_id: 1, hive: 1, kilos: 31.5}"),
                        Document.parse("{_id: 2, hive: 1, kilos: 31.25}")));
        larkmoor.getCollection("photo").insertOne(Document.parse("{_id: 'p-1.jpg', hives: [1]}"));
    }
}
