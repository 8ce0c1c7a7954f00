package dev.vacancy.testing;

import dev.vacancy.demo.Larkmoor;
import java.sql.Connection;
import java.sql.SQLException;

/** Small schemas that several tests share, in the words of the demo. */
public final class Schemas {
    private Schemas() {}

    /** The demo's own database. */
    public static Database larkmoor(Engine engine) {
        Database database = engine.database();
        try (Connection connection = database.connect()) {
            Larkmoor.create(connection, 1);
            return database;
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
    }

    /** Two apiaries with a hive each; hive 1 has two inspections, of which the first has two frame checks. */
    public static Database threeLevels(Engine engine) {
        return engine.database()
                .run(
                        "create table apiary (apiary_id int primary key, name varchar(40))",
                        "create table hive (hive_id int primary key, name varchar(40), apiary_id int not null"
                                + " references apiary (apiary_id) on delete cascade)",
                        "create table inspection (inspection_id int primary key, note varchar(40), hive_id int not null"
                                + " references hive (hive_id) on delete cascade)",
                        "create table frame_check (inspection_id int not null references inspection (inspection_id) on delete cascade,"
                                + " frame_no int not null, primary key (inspection_id, frame_no))",
                        "insert into apiary values (1, 'Fellside'), (2, 'Bramble')",
                        "insert into hive values (1, 'Fellside One', 1), (2, 'Bramble One', 2)",
                        "insert into inspection values (1, 'calm', 1), (2, 'uneasy', 1), (3, 'calm', 2)",
                        "insert into frame_check values (1, 1), (1, 2), (3, 1)");
    }
}
