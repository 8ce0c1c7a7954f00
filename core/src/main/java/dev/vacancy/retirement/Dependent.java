package dev.vacancy.retirement;

import java.util.Locale;
import java.util.Optional;

/**
 * Something that stands on a column or a table that retires.
 *
 * @param kind what it is
 * @param name its name, by which it may be let go along
 * @param fate what becomes of it
 * @param definition what makes it again, in the database's own words; empty where it isn't the database's
 * @param remedy what to do about it, where it is in the way
 * @since 0.1
 */
public record Dependent(Kind kind, String name, Fate fate, Optional<String> definition, Optional<String> remedy) {
    /** What it is. */
    public enum Kind {
        /** A foreign key of another table. */
        LINK_FROM_ELSEWHERE,
        /** A foreign key of the table's own. */
        FOREIGN_KEY,
        /** A view on it, or on a view on it. */
        VIEW,
        /** A trigger. */
        TRIGGER,
        /** A function, procedure or event that names it. */
        ROUTINE,
        /** The primary key. */
        PRIMARY_KEY,
        /** A unique key. */
        UNIQUE_KEY,
        /** A check, or an exclusion. */
        CHECK,
        /** That there is always a value. */
        NOT_NULL,
        /** A default. */
        DEFAULT,
        /** A column that the database works out from others. */
        GENERATED_COLUMN,
        /** An index. */
        INDEX,
        /** A sequence that gives its numbers. */
        SEQUENCE,
        /** A part of the table. */
        PARTITION,
        /** A rule of row-level security or of rewriting. */
        POLICY,
        /** A right that somebody has on it. */
        GRANT,
        /** Statistics over several columns, comments, and what else hangs on it. */
        SETTING,
        /** A rule of ours: a link, a marker, a label, a mask, a follow-up. */
        RULE,
        /** A hold on records. */
        HOLD,
        /** A bulk run that hasn't ended. */
        BULK_RUN,
        /** A scheduled deletion. */
        SCHEDULE;

        /**
         * Returns what it is in words.
         *
         * @return such as {@code foreign key}
         */
        @Override
        public String toString() {
            return this == LINK_FROM_ELSEWHERE
                    ? "foreign key of another table"
                    : name().toLowerCase(Locale.ROOT).replace('_', ' ');
        }
    }

    /** What becomes of it. */
    public enum Fate {
        /** It forbids the retirement, unless it is named to go along where that can be. */
        IN_THE_WAY("in the way"),
        /** It was named: it goes along, and comes back with it. */
        GOES_ALONG("goes along"),
        /** It was named: it stays, and fails until that which it names is back. */
        LEFT_TO_FAIL("stays, and fails"),
        /** It is taken away, and comes back with it. */
        KEPT_APART("kept apart"),
        /** It stays on what is set aside, and is dropped with it. */
        GOES_WITH_IT("goes with it"),
        /** It stays. */
        STAYS("stays");

        private final String words;

        Fate(String words) {
            this.words = words;
        }

        /**
         * Returns it in words.
         *
         * @return such as {@code kept apart}
         */
        @Override
        public String toString() {
            return words;
        }
    }

    /**
     * Says what it is and what becomes of it.
     *
     * @return such as {@code view hive_overview: in the way}
     */
    @Override
    public String toString() {
        return kind + " " + name + ": " + fate;
    }
}
