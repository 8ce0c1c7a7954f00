package dev.vacancy.demo;

import java.io.IOException;
import java.nio.file.Path;
import javax.sql.DataSource;

/** Pages on the demo's data, served until they are closed. */
public interface DemoPages extends AutoCloseable {
    /** Serves them; found by whoever has them on the path. */
    interface Provider {
        /**
         * Starts to serve.
         *
         * @param source a database with the demo's tables
         * @param rules the file with the demo's rules
         * @param port where the pages are, on this machine only; 0 for any that is free
         * @return the running application
         * @throws IOException when it can't listen there
         */
        DemoPages start(DataSource source, Path rules, int port) throws IOException;
    }

    /**
     * Returns where the pages are.
     *
     * @return such as {@code http://localhost:8080/}
     */
    String address();

    /**
     * Returns the password of each keeper.
     *
     * @return the same for all of them
     */
    String password();

    /**
     * Waits until the application ends.
     *
     * @throws InterruptedException when the waiting is ended
     */
    void join() throws InterruptedException;

    @Override
    void close();
}
