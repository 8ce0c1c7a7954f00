package dev.vacancy.property;

import dev.vacancy.testing.Database;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;

/** Keepers with hives, some of which have gone, and inspections and photos of them. */
final class Hives {
    static final int KEEPERS = 5;
    static final int HIVES = 9;
    static final int INSPECTIONS = 14;

    private Hives() {}

    /** Keeper 5 is there in any case. */
    static void fill(Database database, Random random) {
        database.run(
                "create table keeper (keeper_id integer primary key, left_at timestamp null)",
                "create table hive (hive_id integer primary key, keeper_id integer, mother_id integer, state varchar(9) not null,"
                        + " foreign key (keeper_id) references keeper (keeper_id) on delete cascade,"
                        + " foreign key (mother_id) references hive (hive_id) on delete set null)",
                "create table inspection (inspection_id integer primary key, hive_id integer, keeper_id integer,"
                        + " foreign key (hive_id) references hive (hive_id) on delete cascade,"
                        + " foreign key (keeper_id) references keeper (keeper_id))",
                "create table photo (photo_id integer primary key, hive_id integer not null,"
                        + " foreign key (hive_id) references hive (hive_id))");
        List<String> rows = new ArrayList<>();
        for (int i = 1; i <= KEEPERS; i++) {
            rows.add("insert into keeper values (" + i + ", null)");
        }
        for (int i = 0; i < HIVES; i++) {
            rows.add("insert into hive values (" + (10 + i) + ", " + (1 + random.nextInt(KEEPERS)) + ", "
                    + (i == 0 ? "null" : 10 + random.nextInt(i)) + ", '" + (random.nextInt(4) == 0 ? "gone" : "kept")
                    + "')");
            rows.add("insert into photo values (" + (100 + i) + ", " + (10 + random.nextInt(i + 1)) + ")");
        }
        for (int i = 0; i < INSPECTIONS; i++) {
            rows.add("insert into inspection values (" + (1_000 + i) + ", " + (10 + random.nextInt(HIVES)) + ", "
                    + (1 + random.nextInt(KEEPERS)) + ")");
        }
        database.run(rows.toArray(String[]::new));
    }
}
