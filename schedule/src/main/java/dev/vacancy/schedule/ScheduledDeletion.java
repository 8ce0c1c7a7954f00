package dev.vacancy.schedule;

import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Selection;
import dev.vacancy.rule.Consent;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalLong;

/**
 * A deletion that begins by itself: each time a bulk run of the records that are selected at that moment. Who schedules it agrees
 * to the criteria, not to certain records, and can set a number that stops it.
 *
 * @param name what it is called; no two have the same
 * @param table the table's name
 * @param where the criteria, as text; empty for all records
 * @param by who wants it, and why
 * @param atMost how many records may be selected; if there are more, nothing is deleted
 * @param timing when it is due
 * @param given what a person has given who was asked when it was scheduled; {@link Consent#NONE} where a program decided
 * @param exemption the name of the exemption that its runs have; empty for none
 * @since 0.1
 */
public record ScheduledDeletion(
        String name,
        String table,
        Optional<String> where,
        By by,
        OptionalLong atMost,
        Timing timing,
        Consent given,
        Optional<String> exemption) {
    private static final int LONGEST_NAME = 100;

    /**
     * Describes a deletion without an exemption, and which nobody was asked about.
     *
     * @param name what it is called
     * @param table the table's name
     * @param where the criteria, as text; empty for all records
     * @param by who wants it, and why
     * @param atMost how many records may be selected
     * @param timing when it is due
     */
    public ScheduledDeletion(
            String name, String table, Optional<String> where, By by, OptionalLong atMost, Timing timing) {
        this(name, table, where, by, atMost, timing, Consent.NONE, Optional.empty());
    }

    /** Refuses a name that can't be kept, and criteria that can't be read. */
    public ScheduledDeletion {
        if (name.isBlank() || name.length() > LONGEST_NAME) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "'" + name + "' can't be the name of a scheduled deletion.",
                    "Give a name of 1 to " + LONGEST_NAME + " characters.");
        }
        if (atMost.isPresent() && atMost.getAsLong() < 0) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "A scheduled deletion of at most " + atMost.getAsLong() + " records is none.",
                    "Give 0 or more, or leave it out.");
        }
        where.ifPresent(Criteria::parse);
    }

    /**
     * Gives its runs an exemption. Only a worker that has one of that name goes on with them.
     *
     * @param name the exemption's name
     * @return the deletion with that
     */
    public ScheduledDeletion exempting(String name) {
        return new ScheduledDeletion(this.name, table, where, by, atMost, timing, given, Optional.of(name));
    }

    /** The same with what a person has given. */
    ScheduledDeletion given(Consent consent) {
        return new ScheduledDeletion(name, table, where, by, atMost, timing, consent, exemption);
    }

    /**
     * Returns what is to be deleted, to be selected anew each time.
     *
     * @return the selection, which refuses more records than it may have
     */
    public Selection selection() {
        return atMost.isPresent() ? ofAnyNumber().atMost(atMost.getAsLong()) : ofAnyNumber();
    }

    /**
     * Returns the same without a limit, to look at: how many there are now says nothing of later.
     *
     * @return the selection
     */
    public Selection ofAnyNumber() {
        return where.map(text -> Selection.of(table).where(Criteria.parse(text)))
                .orElseGet(() -> Selection.of(table).allRecords());
    }

    /**
     * Returns what was agreed to in words.
     *
     * @return such as {@code reading where taken_at < today - 730 days, at 2026-12-01T02:00:00Z and every P1D, at most 50,000
     *     records each time}
     */
    public String words() {
        return where.map(text -> table + " where " + text).orElse("all records of " + table)
                + timing.first().map(first -> ", at " + first).orElse("")
                + timing.every()
                        .map(every -> (timing.first().isPresent() ? " and" : ",") + " every " + every + " in "
                                + timing.zone())
                        .orElse("")
                + (atMost.isPresent()
                        ? String.format(Locale.ROOT, ", at most %,d records each time", atMost.getAsLong())
                        : "");
    }
}
