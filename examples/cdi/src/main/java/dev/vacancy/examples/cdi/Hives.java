package dev.vacancy.examples.cdi;

import dev.vacancy.By;
import dev.vacancy.Outcome;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import jakarta.transaction.Transactional;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import javax.sql.DataSource;

/** What an application does with hives, in the container's transactions. */
@ApplicationScoped
public class Hives {
    private DataSource source;
    private Vacancy vacancy;

    /** For the container. */
    protected Hives() {}

    @Inject
    Hives(DataSource source, Vacancy vacancy) {
        this.source = source;
        this.vacancy = vacancy;
    }

    /**
     * Gives up a hive and notes it in the apiary's book, both or neither.
     *
     * @param hive its key
     * @param note what is noted; too long a one is refused by the database
     * @return what happened
     */
    @Transactional(rollbackOn = SQLException.class)
    public Outcome giveUp(int hive, String note) throws SQLException {
        Outcome outcome = vacancy.delete(Selection.of("hive").key(hive), By.program("hives"));
        try (Connection connection = source.getConnection();
                PreparedStatement insert = connection.prepareStatement("insert into note (words) values (?)")) {
            insert.setString(1, note);
            insert.executeUpdate();
        }
        return outcome;
    }
}
