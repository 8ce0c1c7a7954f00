package dev.vacancy.bench;

import de.bwaldvogel.mongo.MongoServer;
import dev.vacancy.examples.documents.DocumentsInMemory;

/** A server of documents in memory, in a process of its own where it is started as a program. */
final class DocumentServer {
    private DocumentServer() {}

    /** Starts one at a port of this machine. */
    static MongoServer start() {
        return DocumentsInMemory.server();
    }

    /** Starts one at the port that is given, until the process is ended. */
    public static void main(String... arguments) {
        start().bind("127.0.0.1", Integer.parseInt(arguments[0]));
    }
}
