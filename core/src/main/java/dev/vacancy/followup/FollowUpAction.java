package dev.vacancy.followup;

import java.util.Locale;

/**
 * What happened to a record, as far as somebody outside of the database needs to know.
 *
 * @since 0.1
 */
public enum FollowUpAction {
    /** It went, and can still be restored: what belongs to it is put aside. */
    DELETED,
    /** It was marked as deleted, and can come back: what belongs to it is put aside. */
    MARKED,
    /** It came back: what was put aside comes back as well. */
    RESTORED,
    /** It went for good, or can't be restored any more: what was put aside goes for good. */
    PURGED,
    /** It stayed and was changed: detached, handed to another parent, reset, or touched. */
    CHANGED;

    /** {@return the name in small letters} */
    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT);
    }
}
