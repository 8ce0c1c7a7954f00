package dev.vacancy.bulk;

import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.util.StringJoiner;

/** Hives with inspections and readings, for bulk runs: hives 1 to n are old, each with two inspections. */
final class Readings {
    private Readings() {}

    static Database of(Engine engine, int hives) {
        return fill(engine.database(), hives);
    }

    static Database fill(Database database, int hives) {
        database.run(
                "create table hive (hive_id int primary key, name varchar(20))",
                "create table inspection (inspection_id int primary key, hive_id int not null, foreign key (hive_id)"
                        + " references hive (hive_id) on delete cascade)",
                "create table frame_check (inspection_id int not null, frame_no int not null, primary key (inspection_id,"
                        + " frame_no), foreign key (inspection_id) references inspection (inspection_id) on delete cascade)",
                "create table batch (batch_id int primary key, hive_id int, foreign key (hive_id) references hive (hive_id))",
                "create index inspection_by_hive on inspection (hive_id)");
        for (int first = 1; first <= hives; first += 250) {
            StringJoiner hive = new StringJoiner(", ", "insert into hive values ", "");
            StringJoiner inspection = new StringJoiner(", ", "insert into inspection values ", "");
            StringJoiner frame = new StringJoiner(", ", "insert into frame_check values ", "");
            for (int id = first; id < Math.min(first + 250, hives + 1); id++) {
                hive.add("(" + id + ", 'old')");
                inspection.add("(" + 2 * id + ", " + id + "), (" + (2 * id + 1) + ", " + id + ")");
                frame.add("(" + 2 * id + ", 1)");
            }
            database.run(hive.toString(), inspection.toString(), frame.toString());
        }
        return database.run(
                "insert into hive values (90001, 'new')",
                "insert into inspection values (990001, 90001)",
                "insert into frame_check values (990001, 1)");
    }
}
