package dev.vacancy.bulk;

import java.util.Locale;

/**
 * Where a bulk run stands.
 *
 * @since 0.1
 */
public enum BulkState {
    /** There is work left, and whoever works on it may take the next chunk. */
    RUNNING,
    /** Somebody paused it: no further chunk is taken until it is resumed. */
    PAUSED,
    /** It met a failure and was told to stop at the first one; it can be resumed. */
    STOPPED,
    /** Somebody ended it before all was done; what was done stays done. */
    CANCELLED,
    /** Each record was dealt with: deleted, skipped or failed. */
    DONE;

    /**
     * Tells whether nothing more will happen.
     *
     * @return true for what is cancelled or done
     */
    public boolean isFinal() {
        return this == CANCELLED || this == DONE;
    }

    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT);
    }
}
