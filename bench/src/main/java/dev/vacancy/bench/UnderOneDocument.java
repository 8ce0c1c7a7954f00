package dev.vacancy.bench;

import com.mongodb.client.MongoClient;
import com.mongodb.client.MongoClients;
import com.mongodb.client.MongoCollection;
import com.mongodb.client.MongoDatabase;
import com.mongodb.client.model.Filters;
import com.mongodb.client.model.Indexes;
import com.mongodb.client.model.Projections;
import de.bwaldvogel.mongo.MongoServer;
import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.documents.Documents;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.bson.Document;

/** Documents that go with one that they refer to: by hand and by Vacancy. */
final class UnderOneDocument {
    private static final int PORTION = 1_000;
    private static final int WARM_UPS = 1;
    private static final String NAME = "bench";
    private static final By BY = By.program("bench");
    private static final RuleBook RULES =
            RuleBook.bySchema().link("reading.hive", "hive").on("reading.hive", Clause.cascade());

    private final int count;
    private final int rounds;
    private final Optional<String> address;

    /**
     * Measures nothing yet.
     *
     * @param count how many there are
     * @param address where the server is; empty for one in this process
     */
    UnderOneDocument(int count, int rounds, Optional<String> address) {
        this.count = count;
        this.rounds = rounds;
        this.address = address;
    }

    private enum Way {
        BY_HAND("by hand: `$in`, " + PORTION + " ids at a time") {
            @Override
            void delete(MongoClient client) {
                MongoDatabase database = client.getDatabase(NAME);
                MongoCollection<Document> readings = database.getCollection("reading");
                List<Object> ids = new ArrayList<>();
                for (Document reading : readings.find(Filters.in("hive", 1))
                        .projection(Projections.include("_id"))
                        .batchSize(PORTION)) {
                    ids.add(reading.get("_id"));
                    if (ids.size() == PORTION) {
                        readings.deleteMany(Filters.in("_id", ids));
                        ids.clear();
                    }
                }
                readings.deleteMany(Filters.in("_id", ids));
                database.getCollection("hive").deleteOne(Filters.eq("_id", 1));
            }
        },
        VACANCY("`vacancy.delete`") {
            @Override
            void delete(MongoClient client) {
                Documents.over(client, NAME, RULES).delete(Selection.of("hive").key(1), BY);
            }
        },
        WITH_TRAIL("`vacancy.delete` with a trail") {
            @Override
            void delete(MongoClient client) {
                Documents.over(client, NAME, RULES.trail(Trail.defaults()))
                        .delete(Selection.of("hive").key(1), BY);
            }
        };

        private final String label;

        Way(String label) {
            this.label = label;
        }

        abstract void delete(MongoClient client);
    }

    /** Measures each way, in every round on fresh data, and says the medians as a table. */
    String page() {
        Optional<MongoServer> own = address.isPresent() ? Optional.empty() : Optional.of(DocumentServer.start());
        try (MongoClient client =
                MongoClients.create(address.orElseGet(() -> own.orElseThrow().bindAndGetConnectionString()))) {
            Map<Way, List<Double>> millis = new EnumMap<>(Way.class);
            for (int round = 0; round < rounds + WARM_UPS; round++) {
                for (Way way : Way.values()) {
                    double taken = measure(way, client);
                    if (round >= WARM_UPS) {
                        millis.computeIfAbsent(way, any -> new ArrayList<>()).add(taken);
                    }
                }
            }
            return text(millis);
        } finally {
            own.ifPresent(MongoServer::shutdownNow);
        }
    }

    private double measure(Way way, MongoClient client) {
        fill(client.getDatabase(NAME));
        long start = System.nanoTime();
        way.delete(client);
        double millis = (System.nanoTime() - start) / 1e6;
        long left = client.getDatabase(NAME).getCollection("reading").countDocuments();
        if (left > 0) {
            throw new IllegalStateException(way + " left " + left + " documents");
        }
        return millis;
    }

    private void fill(MongoDatabase database) {
        database.drop();
        database.getCollection("hive").insertOne(new Document("_id", 1).append("name", "Alder"));
        MongoCollection<Document> readings = database.getCollection("reading");
        List<Document> portion = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            portion.add(new Document("_id", i)
                    .append("hive", 1)
                    .append("kilos", 30.5 + i % 7)
                    .append("note", "reading " + i));
            if (portion.size() == PORTION || i == count - 1) {
                readings.insertMany(portion);
                portion.clear();
            }
        }
        readings.createIndex(Indexes.ascending("hive"));
    }

    private String text(Map<Way, List<Double>> millis) {
        StringBuilder text = new StringBuilder(String.format(
                Locale.ROOT,
                "| %,d documents under one, medians of %d | ms | by hand |%n|---|---:|---:|%n",
                count,
                rounds));
        double hand = Figure.median(millis.get(Way.BY_HAND));
        millis.forEach((way, taken) -> text.append(String.format(
                Locale.ROOT, "| %s | %,.0f | %.1f |%n", way.label, Figure.median(taken), Figure.median(taken) / hand)));
        return text.toString();
    }
}
