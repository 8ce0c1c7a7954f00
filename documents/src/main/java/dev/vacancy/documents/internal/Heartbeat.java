package dev.vacancy.documents.internal;

import com.mongodb.MongoException;
import java.time.Duration;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Lets a run be heard of as long as its process is at work on it, however long a single statement takes. */
final class Heartbeat {
    private static final Logger LOG = LoggerFactory.getLogger(Heartbeat.class);

    private final Duration pause;
    private final Runnable beat;
    private final Thread thread;

    private Heartbeat(Duration pause, Runnable beat) {
        this.pause = pause;
        this.beat = beat;
        this.thread = new Thread(this::goOn, "vacancy-documents-heartbeat");
        thread.setDaemon(true);
    }

    /**
     * Begins.
     *
     * @param pause the time between two beats, of which the first comes after it
     * @param beat says that the process is at work
     */
    static Heartbeat begin(Duration pause, Runnable beat) {
        Heartbeat heartbeat = new Heartbeat(pause, beat);
        heartbeat.thread.start();
        return heartbeat;
    }

    private void goOn() {
        while (!Thread.currentThread().isInterrupted()) {
            try {
                Thread.sleep(pause.toMillis());
                beat.run();
            } catch (InterruptedException end) {
                return;
            } catch (MongoException missed) {
                // A beat that is missed doesn't end the others.
                LOG.debug("A run couldn't be heard of", missed);
            }
        }
    }

    /** Ends. */
    void end() {
        thread.interrupt();
    }
}
