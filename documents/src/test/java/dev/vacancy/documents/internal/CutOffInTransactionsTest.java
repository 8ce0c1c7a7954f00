package dev.vacancy.documents.internal;

import dev.vacancy.documents.DocumentServer;
import dev.vacancy.documents.TransactingBackend;

/** Runs that end in the middle on a server that has transactions. */
class CutOffInTransactionsTest extends CutOffRuns {
    private static final DocumentServer SERVER = DocumentServer.of(new TransactingBackend());

    @Override
    DocumentServer server() {
        return SERVER;
    }
}
