package dev.vacancy.examples.tasks;

import dev.vacancy.By;
import dev.vacancy.Outcome;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import javax.sql.DataSource;

/** Delete a record by its key: the types that an application names for it. */
final class DeleteByKey {
    private DeleteByKey() {}

    static long deleteHive(DataSource dataSource, int hive) {
        Vacancy vacancy = Vacancy.over(dataSource);
        Outcome outcome = vacancy.delete(Selection.of("hive").key(hive), By.program("nightly"));
        return outcome.total();
    }
}
