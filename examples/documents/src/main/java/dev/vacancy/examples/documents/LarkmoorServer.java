package dev.vacancy.examples.documents;

import com.mongodb.client.MongoClient;
import com.mongodb.client.MongoClients;
import de.bwaldvogel.mongo.MongoServer;
import dev.vacancy.demo.DemoDocuments;
import java.io.IOException;
import java.sql.Connection;
import java.sql.SQLException;

/** Starts a server in memory for the demo. */
public final class LarkmoorServer implements DemoDocuments.Provider {
    /** Prepares nothing. */
    public LarkmoorServer() {}

    @Override
    public DemoDocuments start(int port) throws IOException {
        MongoServer server = DocumentsInMemory.server();
        try {
            server.bind("localhost", port);
        } catch (RuntimeException taken) {
            throw new IOException(taken.getMessage(), taken);
        }
        return new Running(server, MongoClients.create(server.getConnectionString()));
    }

    private record Running(MongoServer server, MongoClient client) implements DemoDocuments {
        @Override
        public String address(String database) {
            return server.getConnectionString() + "/" + database;
        }

        @Override
        public void fill(Connection tables, String database) throws SQLException {
            new HiveDocuments(tables, client.getDatabase(database)).write();
        }

        @Override
        public void close() {
            client.close();
            server.shutdownNow();
        }
    }
}
