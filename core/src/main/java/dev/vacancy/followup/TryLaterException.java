package dev.vacancy.followup;

import java.time.Duration;

/**
 * Whoever handles a message can't before some time, as another service has said for instance.
 *
 * @since 0.1
 */
public final class TryLaterException extends Exception {
    private static final long serialVersionUID = 1L;

    private final Duration delay;

    /**
     * Says how long to wait.
     *
     * @param message why
     * @param delay for how long at least
     */
    public TryLaterException(String message, Duration delay) {
        super(message);
        this.delay = delay;
    }

    /** {@return for how long at least} */
    public Duration delay() {
        return delay;
    }
}
