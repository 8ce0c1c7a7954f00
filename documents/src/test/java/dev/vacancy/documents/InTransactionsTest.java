package dev.vacancy.documents;

import org.junit.jupiter.api.Nested;

/** On a server that has transactions all is as it is on one without. */
class InTransactionsTest {
    private static final TransactingBackend BACKEND = new TransactingBackend();
    private static final DocumentServer SERVER = DocumentServer.of(BACKEND);

    @Nested
    class Deletions extends DocumentsTest {
        @Override
        DocumentServer server() {
            return SERVER;
        }
    }

    @Nested
    class Trails extends DocumentTrailTest {
        @Override
        DocumentServer server() {
            return SERVER;
        }
    }

    @Nested
    class Erasures extends DocumentErasureTest {
        @Override
        DocumentServer server() {
            return SERVER;
        }
    }

    @Nested
    class BulkRuns extends BulkRunsOfDocumentsTest {
        @Override
        DocumentServer server() {
            return SERVER;
        }
    }

    @Nested
    class FollowUps extends FollowUpsOfDocumentsTest {
        @Override
        DocumentServer server() {
            return SERVER;
        }
    }

    @Nested
    class Properties extends DocumentPropertiesTest {
        @Override
        DocumentServer server() {
            return SERVER;
        }
    }
}
