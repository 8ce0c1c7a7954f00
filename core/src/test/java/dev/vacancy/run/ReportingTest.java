package dev.vacancy.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Reporting;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkListener;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.rule.Ddl;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;

class ReportingTest {
    private static final By ODILE = By.user("odile").because("colonies lost");

    private static Database hivesWithInspections(Engine engine, int hives) {
        Database database = engine.database();
        database.run(
                "create table hive (hive_id integer primary key, name varchar(20))",
                "create table inspection (inspection_id integer primary key, hive_id integer,"
                        + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                "create table photo (photo_id integer primary key, inspection_id integer,"
                        + " foreign key (inspection_id) references inspection (inspection_id) on delete cascade)");
        StringBuilder names = new StringBuilder("insert into hive values (1, 'Hive 1')");
        for (int hive = 2; hive <= hives; hive++) {
            names.append(", (").append(hive).append(", 'Hive ").append(hive).append("')");
        }
        database.run(
                names.toString(),
                "insert into inspection values (10, 1), (11, 1), (20, 2)",
                "insert into photo values (100, 10), (101, 11), (200, 20)");
        return database;
    }

    @OnEveryEngine
    void eachSelectedRecordIsToldEvenBeyondWhatTheOutcomeHolds(Engine engine) {
        Vacancy vacancy = Vacancy.over(hivesWithInspections(engine, 1_500).source());
        Plan plan = vacancy.plan(
                Selection.of("hive").where(Criteria.column("hive_id").atMost(1_200)), ODILE);
        List<String> told = new ArrayList<>();

        Outcome outcome = vacancy.run(
                Approval.of(plan),
                Reporting.none().onRecord(record -> told.add(record.get("hive_id") + " " + record.get("name"))));

        assertThat(outcome.deleted()).hasSize(Plan.MOST_ROOTS);
        assertThat(told).hasSize(1_200).startsWith("1 Hive 1", "2 Hive 2").endsWith("1200 Hive 1200");
    }

    @OnEveryEngine
    void keysOfWhatWentAlongAreGivenForTheTablesThatAreNamed(Engine engine) {
        Vacancy vacancy = Vacancy.over(hivesWithInspections(engine, 3).source());
        Plan plan = vacancy.plan(Selection.of("hive").key(1), ODILE);

        Outcome outcome = vacancy.run(Approval.of(plan), Reporting.none().keysOf("photo", "inspection"));

        assertThat(outcome.keys()).containsOnlyKeys("photo", "inspection");
        assertThat(outcome.keys().get("inspection")).extracting(Key::text).containsExactlyInAnyOrder("10", "11");
        assertThat(outcome.keys().get("photo")).extracting(Key::text).containsExactlyInAnyOrder("100", "101");
    }

    @OnEveryEngine
    void aConsumerThatFailsKeepsTheRecords(Engine engine) {
        Database database = hivesWithInspections(engine, 3);
        Vacancy vacancy = Vacancy.over(database.source());
        Approval approval = Approval.of(vacancy.plan(Selection.of("hive").key(1), ODILE));
        Reporting failing = Reporting.none().onRecord(record -> {
            throw new IllegalStateException("the disk is full");
        });

        assertThatThrownBy(() -> vacancy.run(approval, failing)).hasMessage("the disk is full");

        assertThat(database.count("hive")).isEqualTo(3);
        assertThat(database.count("photo")).isEqualTo(3);
    }

    @OnEveryEngine
    void anUnknownTableIsRefusedBeforeAnythingIsDeleted(Engine engine) {
        Database database = hivesWithInspections(engine, 3);
        Vacancy vacancy = Vacancy.over(database.source());
        Approval approval = Approval.of(vacancy.plan(Selection.of("hive").key(1), ODILE));

        assertThatThrownBy(() -> vacancy.run(approval, Reporting.none().keysOf("beehive")))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("beehive");

        assertThat(database.count("hive")).isEqualTo(3);
    }

    @OnEveryEngine
    void aBulkRunTellsItsRecordsChunkByChunkAndItsEndOnce(Engine engine) {
        Database database = hivesWithInspections(engine, 12);
        Vacancy vacancy = Vacancy.over(database.source());
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        Plan plan = vacancy.plan(
                Selection.of("hive").where(Criteria.column("hive_id").atMost(7)), ODILE);
        BulkOptions options = BulkOptions.defaults().chunk(3);
        UUID run = vacancy.bulk().start(Approval.inChunks(plan), options).runId();
        List<Integer> chunks = new ArrayList<>();
        List<Object> keys = new ArrayList<>();
        List<BulkRun> ended = new ArrayList<>();

        vacancy.bulk().work(run, options, Exemption.none(), new BulkListener() {
            @Override
            public void progressed(BulkRun now) {}

            @Override
            public void deleted(List<RecordContent> records) {
                chunks.add(records.size());
                records.forEach(record -> keys.add(record.key().text()));
            }

            @Override
            public void ended(BulkRun now) {
                ended.add(now);
            }
        });

        assertThat(chunks).containsExactly(3, 3, 1);
        assertThat(keys).containsExactly("1", "2", "3", "4", "5", "6", "7");
        assertThat(ended)
                .singleElement()
                .satisfies(run1 -> assertThat(run1.done()).isEqualTo(7));
    }
}
