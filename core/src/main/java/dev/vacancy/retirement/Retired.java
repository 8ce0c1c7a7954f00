package dev.vacancy.retirement;

import dev.vacancy.By;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.UUID;

/**
 * A column or a table that has retired.
 *
 * @param id the number of the retirement
 * @param table the table, or that of the column
 * @param column the column; empty if the whole table went
 * @param nameAside what it is or was called while it is set aside
 * @param state how far it has come
 * @param by who wanted it, and why
 * @param at when it was set aside
 * @param dueAt when it may be dropped
 * @param files definition and content, once it was dropped
 * @since 0.1
 */
public record Retired(
        UUID id,
        String table,
        Optional<String> column,
        String nameAside,
        State state,
        By by,
        Instant at,
        Instant dueAt,
        List<Path> files) {
    /** Keeps its own copy of the list. */
    public Retired {
        files = List.copyOf(files);
    }

    /** How far it has come. */
    public enum State {
        /** Whoever set it aside didn't come to the end; to bring it back takes away what was done. */
        BEGUN,
        /** It is set aside, and can be had back in a moment. */
        SET_ASIDE,
        /** It is being dropped: its files are written. */
        DROPPING,
        /** It was dropped, and can be made again from its files. */
        DROPPED,
        /** It is being brought back from its files. */
        RETURNING,
        /** It is back. */
        RETURNED;

        /**
         * Returns the state in words.
         *
         * @return such as {@code set aside}
         */
        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT).replace('_', ' ');
        }
    }

    /** {@return what retired, such as {@code hive.wood} or {@code photo}} */
    public String name() {
        return column.map(part -> table + "." + part).orElse(table);
    }

    /**
     * Tells whether it may be dropped.
     *
     * @param now the moment
     * @return true if it is set aside and its retention is over
     */
    public boolean isDue(Instant now) {
        return (state == State.SET_ASIDE || state == State.DROPPING) && !now.isBefore(dueAt);
    }
}
