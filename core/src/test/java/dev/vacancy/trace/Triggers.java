package dev.vacancy.trace;

import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import org.h2.api.Trigger;

/** A trigger that has the last word. */
public final class Triggers {
    private Triggers() {}

    /** Whatever is written into a note, the old one stays. */
    static void keepTheOldNote(Database database, Engine engine) throws SQLException {
        try (Connection connection = database.connect();
                Statement statement = connection.createStatement()) {
            switch (engine) {
                case H2 ->
                    statement.execute("create trigger keep_note before update on inspection for each row call '"
                            + OldNote.class.getName() + "'");
                case POSTGRESQL -> {
                    statement.execute("create function keep_note() returns trigger language plpgsql as"
                            + " $$ begin new.note := old.note; return new; end $$");
                    statement.execute("create trigger keep_note before update on inspection for each row"
                            + " execute function keep_note()");
                }
                case MARIADB ->
                    statement.execute("create trigger keep_note before update on inspection for each row"
                            + " set new.note = old.note");
                default ->
                    statement.execute("create trigger keep_note after update of note on inspection"
                            + " when new.note <> old.note begin"
                            + " update inspection set note = old.note where inspection_id = old.inspection_id; end");
            }
        }
    }

    /** H2 calls classes. */
    public static final class OldNote implements Trigger {
        @Override
        public void fire(Connection connection, Object[] before, Object[] after) {
            if (before != null && after != null) {
                after[3] = before[3];
            }
        }
    }
}
