package dev.vacancy.cli.configuration;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.schedule.ScheduledRuns;
import java.util.List;
import java.util.Optional;

/** A relational database. */
record OpenTables(HikariDataSource source) implements OpenDatabase {
    @Override
    public Vacancy vacancy(RuleBook rules) {
        return Vacancy.over(source, rules);
    }

    @Override
    public List<Finding> check(RuleBook rules) {
        return Vacancy.check(source, rules);
    }

    @Override
    public Optional<ScheduledRuns> scheduled(Vacancy vacancy) {
        return Optional.of(ScheduledRuns.over(source, vacancy));
    }

    @Override
    public Ddl ddl(RuleBook rules, Ddl.Part... parts) {
        return Ddl.of(source, rules, parts);
    }

    @Override
    public boolean make(Ddl.Part... parts) {
        return Ddl.of(source, parts).apply() > 0;
    }

    @Override
    public void close() {
        source.close();
    }
}
