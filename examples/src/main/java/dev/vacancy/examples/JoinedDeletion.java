package dev.vacancy.examples;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.demo.Larkmoor;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;

/**
 * A deletion that is part of the application's own transaction: a keeper leaves, a note of it is written, and both
 * happen or neither does.
 */
public final class JoinedDeletion {
    private JoinedDeletion() {}

    public static void main(String[] arguments) throws SQLException {
        try (HikariDataSource database = new HikariDataSource()) {
            database.setJdbcUrl("jdbc:h2:mem:larkmoor");
            try (Connection connection = database.getConnection()) {
                Larkmoor.create(connection, 1);
            }
            Vacancy vacancy = Vacancy.over(database);

            try (Connection connection = database.getConnection()) {
                connection.setAutoCommit(false);
                leave(vacancy.joining(connection), connection, 3);
                connection.rollback(); // the application thinks better of it
                System.out.println("After the rollback keeper 3 is there: " + isThere(connection, 3));

                leave(vacancy.joining(connection), connection, 3);
                connection.commit();
                System.out.println("After the commit keeper 3 is there: " + isThere(connection, 3));
            }
        }
    }

    private static void leave(Vacancy vacancy, Connection connection, int keeper) throws SQLException {
        try (PreparedStatement note = connection.prepareStatement(
                "insert into photo (photo_id, caption, taken_on) values (9000, 'farewell picture', current_date)")) {
            note.executeUpdate();
        }
        Plan plan =
                vacancy.plan(Selection.of("keeper").key(keeper), By.user("tam").because("moved away"));
        vacancy.run(Approval.of(plan));
    }

    private static boolean isThere(Connection connection, int keeper) throws SQLException {
        try (PreparedStatement query = connection.prepareStatement("select 1 from keeper where keeper_id = ?")) {
            query.setInt(1, keeper);
            return query.executeQuery().next();
        }
    }
}
