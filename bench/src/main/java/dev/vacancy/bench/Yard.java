package dev.vacancy.bench;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;

/** What is measured on: hives with all that hangs on them, 68 records under each. */
final class Yard {
    /** The records that go with one hive, itself among them. */
    static final int RECORDS_OF_A_HIVE = 68;

    private static final int INSPECTIONS = 6;
    private static final int FRAMES = 3;
    private static final int READINGS = 42;

    /**
     * Hives of neighbouring numbers, and what is below them, don't lie side by side: as in life, what goes together has come at
     * different times.
     */
    private static final int STRIDE = 7_919;

    private static final List<String> TABLES = List.of(
            "create table apiary (apiary_id integer primary key, name varchar(40) not null)",
            "create table hive (hive_id integer primary key, apiary_id integer not null, name varchar(40) not null,"
                    + " foreign key (apiary_id) references apiary (apiary_id) on delete cascade)",
            "create table inspection (inspection_id integer primary key, hive_id integer not null,"
                    + " inspected_on date not null, note varchar(80),"
                    + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
            "create table frame_check (inspection_id integer not null, frame_no integer not null, brood integer not null,"
                    + " primary key (inspection_id, frame_no),"
                    + " foreign key (inspection_id) references inspection (inspection_id) on delete cascade)",
            "create table reading (reading_id bigint primary key, hive_id integer not null, taken_at timestamp not null,"
                    + " weight numeric(6,2) not null,"
                    + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
            "create table treatment (treatment_id integer primary key, hive_id integer not null,"
                    + " remedy varchar(40) not null,"
                    + " foreign key (hive_id) references hive (hive_id) on delete cascade)");

    private static final List<String> INDEXES = List.of(
            "create index hive_apiary on hive (apiary_id)",
            "create index inspection_hive on inspection (hive_id)",
            "create index reading_hive on reading (hive_id)",
            "create index treatment_hive on treatment (hive_id)");

    private Yard() {}

    /**
     * Makes the tables and fills them.
     *
     * @param series the table that yields the numbers from 1 to %d as n, the way the database says it
     */
    static void fill(Connection connection, String series, int hives) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            for (String table : TABLES) {
                statement.execute(table);
            }
            statement.execute("insert into apiary values (1, 'Larkmoor Top')");
            String hive = "mod(%s * " + STRIDE + ", " + hives + ") + 1";
            insert(statement, "hive", hive.formatted("n") + ", 1, concat('Hive ', n)", series, hives);
            insert(
                    statement,
                    "inspection",
                    "n, " + hive.formatted("((n - 1) / " + INSPECTIONS + ")")
                            + ", date '2026-05-01', 'Brood on five frames, calm'",
                    series,
                    hives * INSPECTIONS);
            insert(
                    statement,
                    "frame_check",
                    "(n - 1) / " + FRAMES + " + 1, mod(n, " + FRAMES + "), mod(n, 90)",
                    series,
                    hives * INSPECTIONS * FRAMES);
            insert(
                    statement,
                    "reading",
                    "n, " + hive.formatted("cast(n as bigint)") + ", timestamp '2026-05-01 12:00:00', mod(n, 90)",
                    series,
                    hives * READINGS);
            insert(statement, "treatment", "n, " + hive.formatted("n") + ", 'Oxalic acid'", series, hives);
            for (String index : INDEXES) {
                statement.execute(index);
            }
        }
    }

    private static void insert(Statement statement, String table, String values, String series, int rows)
            throws SQLException {
        statement.executeUpdate("insert into " + table + " select " + values + " from " + series.formatted(rows));
    }
}
