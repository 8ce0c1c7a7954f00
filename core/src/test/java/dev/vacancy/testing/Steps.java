package dev.vacancy.testing;

import dev.vacancy.By;
import dev.vacancy.Limits;
import dev.vacancy.Selection;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.schema.CatalogReader;
import dev.vacancy.rule.RuleBook;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.util.List;

/** What applications don't see of a plan: the statements that would carry it out. */
public final class Steps {
    private Steps() {}

    /** Plans a deletion by the rules of the schema. */
    public static Planned of(Database database, Selection selection) {
        try (Connection connection = database.connect()) {
            Dialect dialect = Dialect.of(connection);
            Clock clock = Clock.systemUTC();
            Rules rules = Rules.of(RuleBook.bySchema(), CatalogReader.read(connection, dialect, List.of()), clock);
            return new Planner(
                            rules,
                            dialect,
                            clock,
                            Limits.defaults(),
                            dialect.whereabouts(connection).schema())
                    .on(connection)
                    .preview(selection, By.user("odile"));
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
    }
}
