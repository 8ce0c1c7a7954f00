package dev.vacancy.documents.internal;

import com.mongodb.MongoException;
import com.mongodb.ReadConcern;
import com.mongodb.ReadPreference;
import com.mongodb.TransactionOptions;
import com.mongodb.WriteConcern;
import com.mongodb.client.ClientSession;
import com.mongodb.client.MongoClient;
import com.mongodb.client.MongoDatabase;
import com.mongodb.connection.ServerDescription;
import com.mongodb.connection.ServerType;
import dev.vacancy.LockedException;
import dev.vacancy.internal.failure.LockFailures;
import java.time.Duration;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;

/**
 * Transactions over several documents, where a server says that it has them.
 *
 * @param client the driver's client
 * @param longest how long a transaction is begun again that was in the way of another one
 */
record Transactions(MongoClient client, Duration longest) {
    /** How many documents are changed in one; servers advise against larger ones, and end those that take a minute. */
    static final long MOST = 1_000;

    /** The version of the protocol from which collections can be made in transactions. */
    private static final int COLLECTIONS_INCLUDED = 9;

    private static final Set<ServerType> OFFERING = Set.of(ServerType.REPLICA_SET_PRIMARY, ServerType.SHARD_ROUTER);

    private static final Duration LONGEST = Duration.ofSeconds(20);

    private static final TransactionOptions OPTIONS = TransactionOptions.builder()
            .readPreference(ReadPreference.primary())
            .readConcern(ReadConcern.SNAPSHOT)
            .writeConcern(WriteConcern.MAJORITY)
            .build();

    /** By what the servers have said of themselves: a replica set, or what stands before shards, has transactions if it has sessions. */
    static Optional<Transactions> of(MongoClient client) {
        boolean offered = client.getClusterDescription().getServerDescriptions().stream()
                .filter(ServerDescription::isOk)
                .anyMatch(server -> OFFERING.contains(server.getType())
                        && server.getLogicalSessionTimeoutMinutes() != null
                        && server.getMaxWireVersion() >= COLLECTIONS_INCLUDED);
        return offered ? Optional.of(new Transactions(client, LONGEST)) : Optional.empty();
    }

    /**
     * Works in a transaction, and commits it. If another one is in the way, all of it is done again.
     *
     * @param database the database
     * @param work is given the database as it is in the transaction
     * @throws LockedException when others are in the way for too long; nothing is changed
     * @throws MongoException when the server can't go on; what it says tells whether the commit is unknown
     */
    void run(MongoDatabase database, Consumer<MongoDatabase> work) {
        long end = System.nanoTime() + longest.toNanos();
        try (ClientSession session = client.startSession()) {
            session.withTransaction(
                    () -> {
                        if (System.nanoTime() > end) {
                            throw LockFailures.ofConflict(database.getName(), null);
                        }
                        work.accept(SessionDatabase.of(database, session));
                        return true;
                    },
                    OPTIONS);
        }
    }

    /** Whether it isn't known if a transaction was committed. */
    static boolean isUnknown(MongoException failure) {
        return failure.hasErrorLabel(MongoException.UNKNOWN_TRANSACTION_COMMIT_RESULT_LABEL);
    }
}
