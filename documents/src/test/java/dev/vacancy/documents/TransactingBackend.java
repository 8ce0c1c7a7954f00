package dev.vacancy.documents;

import de.bwaldvogel.mongo.backend.memory.MemoryBackend;
import de.bwaldvogel.mongo.bson.Document;
import de.bwaldvogel.mongo.exception.MongoServerException;
import de.bwaldvogel.mongo.wire.message.MongoMessage;
import io.netty.channel.Channel;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;

/**
 * Stands in for a server that has transactions: a replica set of one, each of whose transactions sees the state that it has begun with, and is refused if another
 * one has changed a document meanwhile that it changes. It says so as it commits, where other servers say so as it writes.
 */
public final class TransactingBackend extends MemoryBackend {
    private static final String ID = "_id";
    private static final int ALL = 1_000_000;

    /** What servers take in a transaction, of a sharded cluster too. */
    private static final Set<String> OFFERED =
            Set.of("find", "getMore", "aggregate", "insert", "update", "delete", "findAndModify", "killCursors");

    private static final int NOT_OFFERED = 263;
    private static final int WRITE_CONFLICT = 112;
    private static final int NO_SUCH_TRANSACTION = 251;

    private final Map<String, Transaction> open = new HashMap<>();
    private final Set<String> ended = new HashSet<>();
    private int committed;
    private int conflicts;
    private Answer answer = Answer.COMMITTED;
    private int times;

    /** How a commit is answered. */
    public enum Answer {
        /** As it was done. */
        COMMITTED,
        /** It is done, and nobody is told. */
        UNANSWERED,
        /** Nothing is done, as another one was in the way. */
        CONFLICT
    }

    private record Transaction(String database, MemoryBackend copy, Map<String, Map<Object, Document>> begun) {}

    /** How the next commits are answered; those after them are again as they are done. */
    public synchronized void answer(Answer given, int most) {
        answer = given;
        times = most;
    }

    /** How many transactions were committed. */
    public synchronized int committed() {
        return committed;
    }

    /** How many were refused. */
    public synchronized int conflicts() {
        return conflicts;
    }

    @Override
    public synchronized Document handleCommand(Channel channel, String database, String command, Document query) {
        if (command.equalsIgnoreCase("hello") || command.equalsIgnoreCase("ismaster")) {
            return super.handleCommand(channel, database, "ismaster", query)
                    .append("isWritablePrimary", true)
                    .append("setName", "apiary")
                    .append("logicalSessionTimeoutMinutes", 30)
                    .append("maxWireVersion", 21);
        }
        return super.handleCommand(channel, database, command, query);
    }

    @Override
    public synchronized Document handleMessage(MongoMessage message) {
        Document asked = message.getDocument();
        String command = asked.keySet().iterator().next();
        if (command.equals("endSessions")) {
            return new Document("ok", 1.0);
        }
        if (!Boolean.FALSE.equals(asked.get("autocommit"))) {
            return handleCommand(message.getChannel(), message.getDatabaseName(), command, asked);
        }
        String id = asked.get("lsid") + "/" + asked.get("txnNumber");
        return switch (command) {
            case "commitTransaction" -> commit(id, message.getChannel());
            case "abortTransaction" -> {
                open.remove(id);
                yield new Document("ok", 1.0);
            }
            default -> inTransaction(id, command, message);
        };
    }

    private Document inTransaction(String id, String command, MongoMessage message) {
        Document asked = message.getDocument();
        if (!OFFERED.contains(command)) {
            open.remove(id);
            return failure(NOT_OFFERED, "OperationNotSupportedInTransaction", "none");
        }
        if (Boolean.TRUE.equals(asked.get("startTransaction"))) {
            open.put(id, begin(message.getDatabaseName(), message.getChannel()));
        }
        Transaction transaction = open.get(id);
        if (transaction == null) {
            return failure(NO_SUCH_TRANSACTION, "NoSuchTransaction", "TransientTransactionError");
        }
        try {
            Document answer =
                    transaction.copy().handleCommand(message.getChannel(), transaction.database(), command, asked);
            if (answer.containsKey("writeErrors")) {
                open.remove(id);
            }
            return answer;
        } catch (MongoServerException refused) {
            open.remove(id);
            throw refused;
        }
    }

    private static Document failure(int code, String name, String label) {
        return new Document("ok", 0.0)
                .append("code", code)
                .append("codeName", name)
                .append("errmsg", name)
                .append("errorLabels", new ArrayList<>(List.of(label)));
    }

    private Transaction begin(String database, Channel channel) {
        MemoryBackend copy = new MemoryBackend();
        Map<String, Map<Object, Document>> begun = new LinkedHashMap<>();
        for (String collection : collections(this, database, channel)) {
            Map<Object, Document> documents = documents(this, database, collection, channel);
            begun.put(collection, documents);
            copy.handleCommand(channel, database, "create", new Document("create", collection));
            List<Document> indexes = list(
                    super.handleCommand(channel, database, "listIndexes", new Document("listIndexes", collection)));
            indexes.removeIf(index -> "_id_".equals(index.get("name")));
            if (!indexes.isEmpty()) {
                copy.handleCommand(
                        channel,
                        database,
                        "createIndexes",
                        new Document("createIndexes", collection).append("indexes", indexes));
            }
            insert(copy, database, collection, documents.values(), channel);
        }
        return new Transaction(database, copy, begun);
    }

    private Document commit(String id, Channel channel) {
        Transaction transaction = open.remove(id);
        if (transaction == null) {
            return ended.contains(id)
                    ? new Document("ok", 1.0)
                    : failure(NO_SUCH_TRANSACTION, "NoSuchTransaction", "TransientTransactionError");
        }
        Answer given = times > 0 ? answer : Answer.COMMITTED;
        times--;
        Map<String, Map<Object, Document>> changed = new LinkedHashMap<>();
        boolean free = given != Answer.CONFLICT;
        for (String collection : collections(transaction.copy(), transaction.database(), channel)) {
            Map<Object, Document> before = transaction.begun().getOrDefault(collection, Map.of());
            Map<Object, Document> now = documents(this, transaction.database(), collection, channel);
            Map<Object, Document> after = documents(transaction.copy(), transaction.database(), collection, channel);
            Map<Object, Document> writes = differences(before, after);
            free &= writes.keySet().stream().allMatch(key -> Objects.equals(before.get(key), now.get(key)));
            changed.put(collection, writes);
        }
        if (!free) {
            conflicts++;
            return failure(WRITE_CONFLICT, "WriteConflict", "TransientTransactionError");
        }
        changed.forEach((collection, writes) -> write(transaction.database(), collection, writes, channel));
        ended.add(id);
        committed++;
        if (given == Answer.UNANSWERED) {
            channel.unsafe().closeForcibly();
        }
        return new Document("ok", 1.0);
    }

    /** What was changed, by key; null is what went. */
    private static Map<Object, Document> differences(Map<Object, Document> before, Map<Object, Document> after) {
        Map<Object, Document> differences = new LinkedHashMap<>();
        before.forEach((key, was) -> {
            if (!was.equals(after.get(key))) {
                differences.put(key, after.get(key));
            }
        });
        after.forEach((key, is) -> {
            if (!before.containsKey(key)) {
                differences.put(key, is);
            }
        });
        return differences;
    }

    private void write(String database, String collection, Map<Object, Document> writes, Channel channel) {
        List<Document> deletes = new ArrayList<>();
        List<Document> inserts = new ArrayList<>();
        writes.forEach((key, document) -> {
            deletes.add(new Document("q", new Document(ID, new Document("$eq", key))).append("limit", 1));
            if (document != null) {
                inserts.add(document);
            }
        });
        if (!deletes.isEmpty()) {
            super.handleCommand(
                    channel, database, "delete", new Document("delete", collection).append("deletes", deletes));
        }
        insert(super::handleCommand, database, collection, inserts, channel);
    }

    private interface Commands {
        Document handle(Channel channel, String database, String command, Document query);
    }

    private static void insert(
            MemoryBackend backend, String database, String collection, Iterable<Document> documents, Channel channel) {
        insert(backend::handleCommand, database, collection, documents, channel);
    }

    private static void insert(
            Commands commands, String database, String collection, Iterable<Document> documents, Channel channel) {
        List<Document> copies = new ArrayList<>();
        documents.forEach(document -> copies.add(document.cloneDeeply()));
        if (copies.isEmpty()) {
            return;
        }
        Document answer = commands.handle(
                channel, database, "insert", new Document("insert", collection).append("documents", copies));
        if (answer.containsKey("writeErrors")) {
            throw new IllegalStateException("not as it was: " + answer);
        }
    }

    private static List<String> collections(MemoryBackend backend, String database, Channel channel) {
        List<String> names = new ArrayList<>();
        list(backend.handleCommand(channel, database, "listCollections", new Document("listCollections", 1)))
                .forEach(collection -> names.add((String) collection.get("name")));
        names.removeIf(name -> name.startsWith("system."));
        return names;
    }

    private static Map<Object, Document> documents(
            MemoryBackend backend, String database, String collection, Channel channel) {
        Map<Object, Document> documents = new LinkedHashMap<>();
        Document find = new Document("find", collection).append("batchSize", ALL);
        list(backend.handleCommand(channel, database, "find", find))
                .forEach(document -> documents.put(document.get(ID), document.cloneDeeply()));
        return documents;
    }

    @SuppressWarnings("unchecked")
    private static List<Document> list(Document answer) {
        return new ArrayList<>((List<Document>) ((Document) answer.get("cursor")).get("firstBatch"));
    }
}
