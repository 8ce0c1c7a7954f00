package dev.vacancy.cli.configuration;

import dev.vacancy.Vacancy;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.schedule.ScheduledRuns;
import java.util.List;
import java.util.Optional;

/** A database that is connected to, of whatever kind. */
sealed interface OpenDatabase extends AutoCloseable permits OpenTables, OpenDocuments {
    Vacancy vacancy(RuleBook rules);

    List<Finding> check(RuleBook rules);

    /** Deletions that are due later; empty where there can't be any. */
    Optional<ScheduledRuns> scheduled(Vacancy vacancy);

    /** What the database still needs for rules, and for whatever else is to be kept in it. */
    Ddl ddl(RuleBook rules, Ddl.Part... parts);

    /** Makes what things of ours are kept in where it is missing, and tells whether any was. */
    boolean make(Ddl.Part... parts);

    @Override
    void close();
}
