package dev.vacancy.internal.chunking;

import java.time.Duration;
import java.util.concurrent.TimeUnit;

/** How long somebody waits who has nothing to do while others are at it: longer each time. */
final class Turn {
    private static final Duration FIRST = Duration.ofMillis(25);
    private static final Duration LONGEST = Duration.ofMillis(400);
    private static final Duration SIGN_OF_LIFE = Duration.ofSeconds(15);

    private Duration next = FIRST;

    void await() {
        sleep(next);
        next = next.compareTo(LONGEST) < 0 ? next.multipliedBy(2) : next;
    }

    void isOver() {
        next = FIRST;
    }

    /** Whoever pauses between two chunks is still at it, and says so. */
    static void rest(Duration pause, Runnable stillAtIt) {
        Duration left = pause;
        while (left.compareTo(SIGN_OF_LIFE) > 0 && !Thread.currentThread().isInterrupted()) {
            sleep(SIGN_OF_LIFE);
            left = left.minus(SIGN_OF_LIFE);
            stillAtIt.run();
        }
        sleep(left);
    }

    private static void sleep(Duration time) {
        try {
            TimeUnit.NANOSECONDS.sleep(time.toNanos());
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
        }
    }
}
