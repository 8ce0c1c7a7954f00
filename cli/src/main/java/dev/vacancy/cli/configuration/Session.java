package dev.vacancy.cli.configuration;

import dev.vacancy.Limits;
import dev.vacancy.Vacancy;
import dev.vacancy.internal.request.WrittenRules;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.schedule.ScheduledRuns;
import java.util.List;
import java.util.Optional;

/** The database that the configuration names, open for one command. */
public final class Session implements AutoCloseable {
    private final OpenDatabase database;
    private final RuleBook rules;
    private final Limits limits;
    private Vacancy vacancy;

    private Session(OpenDatabase database, RuleBook rules, Limits limits) {
        this.database = database;
        this.rules = rules;
        this.limits = limits;
    }

    static Session of(OpenDatabase database, RuleBook rules) {
        return new Session(database, rules, Limits.defaults());
    }

    /** The same database for a verb whose plans and runs may go further, or less far. */
    public Session within(Limits others) {
        return new Session(database, rules, others);
    }

    /** Reads the catalog and the rules, once; refuses rules that don't fit. */
    public Vacancy vacancy() {
        if (vacancy == null) {
            vacancy = database.vacancy(rules).withLimits(limits);
        }
        return vacancy;
    }

    /** Deletions that are due later; empty where there can't be any. */
    public Optional<ScheduledRuns> scheduled() {
        return database.scheduled(vacancy());
    }

    /** What the database still needs for the rules, and for whatever else is to be kept in it. */
    public Ddl ddl(List<Ddl.Part> parts) {
        return database.ddl(rules, parts.toArray(Ddl.Part[]::new));
    }

    /** Makes tables of ours where they are missing, and tells whether any was. */
    public boolean makeTables(Ddl.Part... parts) {
        return database.make(parts);
    }

    /** The tables that the rules mark records of. */
    public List<String> softTables() {
        return WrittenRules.of(rules).softTables().stream()
                .map(WrittenRules.SoftTable::table)
                .toList();
    }

    /** Looks for what is wrong or risky, rules that don't fit among it. */
    public List<Finding> check() {
        return database.check(rules);
    }

    @Override
    public void close() {
        database.close();
    }
}
