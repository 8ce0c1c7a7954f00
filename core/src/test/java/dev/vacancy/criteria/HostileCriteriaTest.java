package dev.vacancy.criteria;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;

/** Nothing that a user types can become SQL: it is refused with an error of ours, or deletes what it picks and no more. */
class HostileCriteriaTest {
    private static final int TRIES = 400;
    private static final String HIVE = "hive where hive_id = ";
    private static final String[] TABLES = {"keeper", "apiary", HIVE + 1, HIVE + 2, HIVE + 3, HIVE + 4};

    private static final String[] CONDITIONS = {
        "hive_id = 1",
        "hive_id <> 3",
        "name like 'Fell%'",
        "apiary.name = 'Bramble'",
        "kilos between 1 and 30",
        "hive_id in (1, 2)",
        "set_up_on < today - 90 days",
        "name is null",
        "not active = true",
        "\"Group By\" = 'it''s; --'"
    };

    private static final String[] PIECES = {
        "'",
        "''",
        "\"",
        "`",
        ";",
        "--",
        "/*",
        "*/",
        "(",
        ")",
        " ",
        ",",
        "\\",
        "\\'",
        "%",
        "?",
        "$1",
        ":a",
        "::int",
        "$$",
        "@x",
        "#",
        "=",
        "<",
        "1",
        "null",
        "hive_id",
        "name",
        "today",
        " and ",
        " or ",
        " not ",
        " or 1=1",
        "' or '1'='1",
        "; delete from hive",
        "; drop table hive; --",
        " union select 1",
        "select 1",
        "(select max(hive_id) from hive)",
        "exists (select 1)",
        "sleep(5)",
        "pg_sleep(5)",
        "load_extension('x')",
        "{d '2026-01-01'}",
        "\u0001" + "0",
        "\0",
        "\n",
        "\u202e",
        "\ud83d",
        "🐝",
        "ﬀ",
        "＇"
    };

    @OnEveryEngine
    void whateverIsTypedNothingElseHappens(Engine engine) throws SQLException {
        Database database = CriteriaTest.hives(engine);
        Vacancy vacancy = Vacancy.over(database.source());
        List<String> before = database.contents(TABLES);
        Random random = new Random(1887);
        int deleted = 0;
        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            for (int i = 0; i < TRIES; i++) {
                String text = text(random);
                try {
                    deleted += deleteAndTakeBack(vacancy.joining(connection), connection, text);
                } catch (InvalidRequestException refused) {
                    assertThat(refused.remedy()).as(text).isNotBlank();
                }
                assertThat(Database.contents(connection, TABLES)).as(text).isEqualTo(before);
                connection.rollback();
            }
        }
        assertThat(deleted)
                .as("conditions that were understood and picked something")
                .isGreaterThan(TRIES / 20);
        assertThat(database.contents(TABLES)).isEqualTo(before);
    }

    private static int deleteAndTakeBack(Vacancy vacancy, Connection connection, String text) throws SQLException {
        List<String> before = Database.contents(connection, TABLES);
        Plan plan = vacancy.plan(Selection.of("hive").where(Criteria.parse(text)), By.user("odile"));
        vacancy.run(Approval.of(plan));
        List<String> after = Database.contents(connection, TABLES);
        connection.rollback();
        List<String> gone =
                plan.roots().stream().map(root -> HIVE + root.key().text()).toList();
        List<String> left = new ArrayList<>(before);
        left.replaceAll(row -> gone.stream().anyMatch(hive -> row.startsWith(hive + ":")) ? emptied(row) : row);
        assertThat(after).as(text).isEqualTo(left);
        return gone.size();
    }

    private static String emptied(String row) {
        return row.substring(0, row.indexOf('[')) + "[]";
    }

    /** Conditions that are understood, most of them with something put in, taken out or written twice. */
    private static String text(Random random) {
        StringBuilder text = new StringBuilder(one(CONDITIONS, random));
        if (random.nextInt(3) == 0) {
            text.append(random.nextBoolean() ? " and " : " or ").append(one(CONDITIONS, random));
        }
        for (int i = random.nextInt(4); i > 0; i--) {
            int place = random.nextInt(text.length() + 1);
            if (random.nextInt(4) == 0) {
                text.delete(place, Math.min(text.length(), place + 1 + random.nextInt(3)));
            } else {
                text.insert(random.nextBoolean() ? text.length() : place, one(PIECES, random));
            }
        }
        return text.toString();
    }

    private static String one(String[] among, Random random) {
        return among[random.nextInt(among.length)];
    }
}
