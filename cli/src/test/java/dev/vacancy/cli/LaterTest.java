package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** What is deleted goes to a file, later, or a whole table at a time. */
class LaterTest extends OnTheDemo {
    private static final String MARCH = "taken_at < '2026-04-01T00:00:00'";
    private static final TypeReference<List<Map<String, Object>>> OBJECTS = new TypeReference<>() {};

    private Tool.Result schedule(String... further) throws Exception {
        String[] arguments = {
            "delete",
            "reading",
            "--where",
            MARCH,
            "--every",
            "P1D",
            "--at",
            "2026-03-01T02:00",
            "--zone",
            "Europe/Dublin",
            "--name",
            "old readings",
            "--yes"
        };
        return Tool.run(
                folder, Stream.of(arguments, further).flatMap(Arrays::stream).toArray(String[]::new));
    }

    private long readings() throws Exception {
        return DemoDatabase.number(folder, "select count(*) from reading");
    }

    @Test
    void deletedRecordsAreWrittenAsJsonLinesAndAsCsv() throws Exception {
        Tool.run(folder, "delete", "reading", "--where", "reading_id <= 3", "--yes", "--deleted-to", "gone.jsonl");
        Tool.Result bulk = Tool.run(
                folder,
                "delete",
                "reading",
                "--where",
                "reading_id <= 8",
                "--yes",
                "--chunk",
                "2",
                "--deleted-to",
                "gone.csv");

        assertThat(bulk.status()).as(bulk.err()).isZero();
        assertThat(Files.readAllLines(folder.resolve("gone.jsonl"), StandardCharsets.UTF_8))
                .hasSize(3)
                .first()
                .isEqualTo("{\"reading_id\":1,\"hive_id\":1,\"taken_at\":\"2026-03-01T00:01\",\"weight_kg\":51.77,"
                        + "\"brood_celsius\":35.3}");
        assertThat(Files.readAllLines(folder.resolve("gone.csv"), StandardCharsets.UTF_8))
                .hasSize(6)
                .startsWith("reading_id,hive_id,taken_at,weight_kg,brood_celsius")
                .anyMatch(line -> line.startsWith("8,8,"));
    }

    @Test
    void aFileThatIsThereIsNotWrittenOver() throws Exception {
        Files.writeString(folder.resolve("gone.csv"), "precious");

        for (String file : List.of("gone.csv", "gone.txt", "no/such/folder/gone.csv")) {
            Tool.Result result = Tool.run(folder, "delete", "reading", "--key", "1", "--yes", "--deleted-to", file);

            assertThat(result.status()).as(file).isNotZero();
            assertThat(result.err()).contains(file);
        }
        assertThat(readings()).isEqualTo(20_000);
        assertThat(folder.resolve("gone.csv")).hasContent("precious");
    }

    @Test
    void whatFailsLeavesNoFile() throws Exception {
        Tool.Result blocked = Tool.run(folder, "delete", "hive", "--key", "4", "--yes", "--deleted-to", "gone.csv");

        assertThat(blocked.status()).isEqualTo(3);
        assertThat(folder.resolve("gone.csv")).doesNotExist();
    }

    @Test
    void aDeletionThatIsDueIsDoneByAWorkerAndComesAgain() throws Exception {
        Tool.Result scheduled = schedule("--at-most", "9000");
        long before = readings();
        Tool.Result work = Tool.run(folder, "runs", "work");
        List<Map<String, Object>> runs = JsonMapper.builder()
                .build()
                .readValue(Tool.run(folder, "runs", "list", "--output", "json").out(), OBJECTS);

        assertThat(scheduled.status()).as(scheduled.err()).isZero();
        assertThat(scheduled.out()).contains("Scheduled 'old readings', due 2026-03-01T02:00:00Z");
        assertThat(before).isEqualTo(20_000);
        assertThat(work.status()).as(work.err()).isZero();
        assertThat(readings()).isLessThan(before);
        assertThat(runs).hasSize(2);
        assertThat(runs.get(0)).containsEntry("name", "old readings").containsEntry("state", "done");
        assertThat(runs.get(1)).containsEntry("state", "scheduled").containsEntry("atMost", 9000);
        assertThat(String.valueOf(runs.get(1).get("dueAt"))).isGreaterThan("2026-11-24");
    }

    @Test
    void moreThanItMayHaveAreRefused() throws Exception {
        schedule("--at-most", "5");

        Tool.Result work = Tool.run(folder, "runs", "work");

        assertThat(work.err()).contains("'old readings' was refused").contains("at most 5");
        assertThat(readings()).isEqualTo(20_000);
        assertThat(Tool.run(folder, "runs").out()).contains("last 2026-03-01T02:00:00Z: refused");
    }

    @Test
    void aScheduledDeletionIsTakenOffTheListByItsName() throws Exception {
        schedule();
        Tool.Result twice = schedule();
        Tool.Result cancelled = Tool.run(folder, "runs", "cancel", "old readings");

        assertThat(twice.status()).isEqualTo(2);
        assertThat(twice.err()).contains("'old readings' already");
        assertThat(cancelled.status()).isZero();
        assertThat(Tool.run(folder, "runs").out()).doesNotContain("old readings");
    }

    @Test
    void whatCannotBeScheduledIsRefused() throws Exception {
        assertThat(Tool.run(folder, "delete", "reading", "--key", "3", "--every", "P1D", "--yes")
                        .err())
                .contains("--where");
        assertThat(Tool.run(folder, "delete", "reading", "--every", "P1D", "--yes")
                        .err())
                .contains("that never means all of them");
        assertThat(Tool.run(folder, "delete", "reading", "--where", MARCH, "--every", "often", "--yes")
                        .err())
                .contains("'often'");
        assertThat(Tool.run(folder, "delete", "reading", "--where", MARCH, "--at", "2026-12-01T02:00", "--zone", "Moon")
                        .err())
                .contains("'Moon'");
    }

    @Test
    void emptyingATableAsksForTheNumber() throws Exception {
        Tool.Result yes = Tool.run(folder, "empty", "photo");
        Tool.Result parent = Tool.run(folder, "empty", "hive");
        Tool.Result json = Tool.run(folder, "empty", "photo", "--output", "json");
        TerminalRun typed = TerminalRun.of(folder, Map.of(), "to do so: ", "120\n", "empty", "photo");

        assertThat(yes.status()).isEqualTo(4);
        assertThat(yes.err()).contains("Empty photo of all 120 records?");
        assertThat(parent.status()).isEqualTo(2);
        assertThat(parent.err()).contains("--all-records");
        assertThat(json.out()).contains("\"status\" : \"not approved\"").contains("\"records\" : 120");
        assertThat(typed.status()).isZero();
        assertThat(DemoDatabase.number(folder, "select count(*) from photo")).isZero();
    }
}
