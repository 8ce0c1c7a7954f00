package dev.vacancy.followup;

import java.util.Locale;

/**
 * How a message stands that was not handled yet.
 *
 * @since 0.1
 */
public enum FollowUpState {
    /** It is handed over when it is due, and after the earlier ones of its record. */
    OPEN,
    /** It was tried often enough; somebody has to look, and to send it again or give it up. Later ones of its record wait. */
    FAILED;

    /** {@return the name in small letters} */
    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT);
    }
}
