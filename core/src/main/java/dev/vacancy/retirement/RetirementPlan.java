package dev.vacancy.retirement;

import dev.vacancy.Proposal;
import dev.vacancy.internal.retiring.PlannedRetirement;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.UUID;

/**
 * What a step of a retirement would do: setting a column or a table aside, dropping it, or bringing it back.
 *
 * @since 0.1
 */
public sealed interface RetirementPlan extends Proposal permits PlannedRetirement {
    /** {@return the number of the retirement, by which it can be brought back} */
    UUID id();

    /** {@return the step} */
    RetirementStep step();

    /** {@return what retires, such as {@code hive.wood} or {@code photo}} */
    String name();

    /** {@return the table, or that of the column} */
    String table();

    /** {@return the column; empty if the whole table goes} */
    Optional<String> column();

    /** {@return what it is called while it is set aside} */
    String nameAside();

    /** {@return how many records there are that have it: of the table or in the column} */
    long records();

    /** {@return how many of them hold anything: of a column those with a value, of a table all} */
    long filled();

    /** {@return what stands on it, and what becomes of each, the most important first} */
    List<Dependent> dependents();

    /** {@return whether anything still uses it, in sentences, as far as the database keeps figures; where it keeps none it says so} */
    List<String> use();

    /** {@return what the database can't tell, in sentences} */
    List<String> unknown();

    /** {@return how many records in the audit trail could no longer be restored whole; empty without a trail} */
    OptionalLong restorableEntries();

    /** {@return what else is to be known, such as why it can't come back as it was} */
    List<String> notes();

    /** {@return when it may be dropped} */
    Instant dueAt();

    /** {@return the files of definition and content: written by a drop, read by a return from one; empty otherwise} */
    List<Path> files();
}
