package dev.vacancy.documents;

import com.mongodb.client.MongoClient;
import com.mongodb.client.MongoClients;
import com.mongodb.client.MongoDatabase;
import de.bwaldvogel.mongo.MongoBackend;
import de.bwaldvogel.mongo.MongoServer;
import de.bwaldvogel.mongo.backend.memory.MemoryBackend;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicInteger;
import org.bson.BsonDocument;

/** A server for tests: one in memory, or that at the address in the property {@code vacancy.test.documents}. */
public final class DocumentServer {
    /** As it comes, or is named. */
    public static final DocumentServer PLAIN = new DocumentServer(
            Optional.ofNullable(System.getProperty("vacancy.test.documents")).orElseGet(() -> at(new MemoryBackend())));

    private static final AtomicInteger NUMBER = new AtomicInteger();

    private final String address;
    private final MongoClient client;

    private DocumentServer(String address) {
        this.address = address;
        client = MongoClients.create(address);
    }

    /** A server in memory, which goes with the process. */
    public static DocumentServer of(MongoBackend backend) {
        return new DocumentServer(at(backend));
    }

    private static String at(MongoBackend backend) {
        return new MongoServer(backend).bindAndGetConnectionString();
    }

    /** Where it is, as a connection string. */
    public String address() {
        return address;
    }

    /** The driver's client. */
    public MongoClient client() {
        return client;
    }

    /** An empty database. */
    public MongoDatabase database() {
        MongoDatabase database =
                client.getDatabase("t" + ProcessHandle.current().pid() + "_" + NUMBER.incrementAndGet());
        database.drop();
        return database;
    }

    /** Puts documents into a collection, each in Extended JSON. */
    public static void put(MongoDatabase database, String collection, String... documents) {
        for (String document : documents) {
            database.getCollection(collection, BsonDocument.class).insertOne(BsonDocument.parse(document));
        }
    }

    /** All that a database holds but for the trail and which approvals were redeemed: each document as text, by collection and in the order of their ids. */
    public static Map<String, List<String>> dump(MongoDatabase database) {
        Map<String, List<String>> dump = new TreeMap<>();
        for (String name : database.listCollectionNames()) {
            if (name.startsWith("vacancy_trail_") || name.equals("vacancy_redeemed")) {
                continue;
            }
            List<String> documents = new ArrayList<>();
            database.getCollection(name, BsonDocument.class)
                    .find()
                    .forEach(document -> documents.add(document.toJson()));
            documents.sort(null);
            if (!documents.isEmpty()) {
                dump.put(name, documents);
            }
        }
        return dump;
    }
}
