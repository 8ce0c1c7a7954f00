package dev.vacancy.documents.internal;

import static org.assertj.core.api.Assertions.assertThat;

import com.mongodb.MongoException;
import java.time.Duration;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;

class HeartbeatTest {
    @Test
    void itGoesOnThoughABeatIsMissedAndEnds() throws InterruptedException {
        CountDownLatch beats = new CountDownLatch(3);
        Heartbeat heartbeat = Heartbeat.begin(Duration.ofMillis(1), () -> {
            beats.countDown();
            if (beats.getCount() == 2) {
                throw new MongoException("nobody answers");
            }
        });
        try {
            assertThat(beats.await(10, TimeUnit.SECONDS)).isTrue();
        } finally {
            heartbeat.end();
        }
        assertThat(Thread.getAllStackTraces().keySet())
                .filteredOn(thread -> thread.getName().equals("vacancy-documents-heartbeat"))
                .allSatisfy(thread -> {
                    thread.join(10_000);
                    assertThat(thread.isAlive()).isFalse();
                });
    }
}
