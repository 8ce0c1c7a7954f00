package dev.vacancy.demo;

import java.io.IOException;
import java.sql.Connection;
import java.sql.SQLException;

/** A server of documents that keeps them as long as it runs. */
public interface DemoDocuments extends AutoCloseable {
    /** Starts one; found by whoever has it on the path. */
    interface Provider {
        /**
         * Starts a server that is empty.
         *
         * @param port where it listens, on this machine only; 0 for any that is free
         * @return the running server
         * @throws IOException when it can't listen there
         */
        DemoDocuments start(int port) throws IOException;
    }

    /**
     * Returns where a database of the server is.
     *
     * @param database its name
     * @return such as {@code mongodb://localhost:27117/larkmoor}
     */
    String address(String database);

    /**
     * Makes documents of the demo's records: hives with what was seen in them, readings apart, photos with the hives that they show.
     *
     * @param tables a connection to a database with the demo's tables
     * @param database the name of the database that gets them
     * @throws SQLException when the records can't be read
     */
    void fill(Connection tables, String database) throws SQLException;

    @Override
    void close();
}
