package dev.vacancy.documents.internal;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.mongodb.client.MongoDatabase;
import dev.vacancy.FailureCode;
import dev.vacancy.LockedException;
import dev.vacancy.documents.DocumentServer;
import dev.vacancy.documents.TransactingBackend;
import java.time.Duration;
import org.bson.Document;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** Others that are in the way of a transaction. */
class InTheWayTest {
    private static final TransactingBackend BACKEND = new TransactingBackend();
    private static final DocumentServer SERVER = DocumentServer.of(BACKEND);

    private final MongoDatabase larkmoor = SERVER.database();
    private final Transactions transactions = new Transactions(SERVER.client(), Duration.ofMillis(200));

    @AfterEach
    void leaveNobodyInTheWay() {
        BACKEND.answer(TransactingBackend.Answer.COMMITTED, 0);
    }

    private void insert(MongoDatabase there) {
        there.getCollection("hive").insertOne(new Document("_id", 1));
    }

    @Test
    void whoeverStaysInTheWayIsTold() {
        BACKEND.answer(TransactingBackend.Answer.CONFLICT, Integer.MAX_VALUE);

        assertThatThrownBy(() -> transactions.run(larkmoor, this::insert))
                .isInstanceOfSatisfying(
                        LockedException.class,
                        failure -> assertThat(failure.code()).isEqualTo(FailureCode.TRY_AGAIN));

        assertThat(larkmoor.getCollection("hive").countDocuments()).isZero();
    }

    @Test
    void nobodyElseSeesWhatIsNotCommitted() {
        transactions.run(larkmoor, there -> {
            insert(there);
            assertThat(there.getCollection("hive").countDocuments()).isEqualTo(1);
            assertThat(larkmoor.getCollection("hive").countDocuments()).isZero();
        });

        assertThat(larkmoor.getCollection("hive").countDocuments()).isEqualTo(1);
    }

    @Test
    void whatFailsInTheMiddleIsTakenBack() {
        assertThatThrownBy(() -> transactions.run(larkmoor, there -> {
                    insert(there);
                    throw new IllegalStateException("the bees are out");
                }))
                .isInstanceOf(IllegalStateException.class);

        assertThat(larkmoor.getCollection("hive").countDocuments()).isZero();
    }
}
