package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;

/** Many records at the command line: by a file, all of them, in chunks. */
class BulkTest extends OnTheDemo {
    @Test
    void keysComeFromAFileInWhateverOrderItsColumnsStand() throws Exception {
        Files.writeString(
                folder.resolve("checks.csv"), "note,frame_no,inspection_id\r\nx,1,12\r\ny,2,12\r\nz,1,12\r\n");

        Tool.Result result = Tool.run(folder, "delete", "frame_check", "--keys-from", "checks.csv", "--yes");

        assertThat(result.status()).as(result.err()).isZero();
        assertThat(result.out()).contains("Deleted 2 records: frame_check 2");
        assertThat(result.err()).contains("1 key came more than once");
        assertThat(DemoDatabase.number(
                        folder, "select count(*) from frame_check where inspection_id = 12 and frame_no < 3"))
                .isZero();
    }

    @Test
    void aFileThatNamesNoRecordsIsRefused() throws Exception {
        Files.writeString(folder.resolve("empty.csv"), "hive_id\r\n");
        Files.writeString(folder.resolve("other.csv"), "id\r\n1\r\n");
        Files.writeString(folder.resolve("gap.csv"), "hive_id,name\r\n,x\r\n");

        for (String file : new String[] {"empty.csv", "other.csv", "gap.csv", "missing.csv"}) {
            Tool.Result result = Tool.run(folder, "delete", "hive", "--keys-from", file, "--yes");

            assertThat(result.status()).as(file).isEqualTo(2);
            assertThat(result.err()).contains(file);
        }
        assertThat(DemoDatabase.number(folder, "select count(*) from hive")).isEqualTo(40);
    }

    @Test
    void allRecordsAreDeletedByTypingTheirNumber() throws Exception {
        Tool.Result yes = Tool.run(folder, "delete", "photo", "--all-records", "--yes");
        TerminalRun wrong = atTheTerminal("yes\n");
        long left = DemoDatabase.number(folder, "select count(*) from photo");
        TerminalRun right = atTheTerminal("120\n");

        assertThat(yes.status()).isEqualTo(4);
        assertThat(wrong.status()).isEqualTo(4);
        assertThat(left).isEqualTo(120);
        assertThat(right.status()).isZero();
        assertThat(right.screen()).contains("Delete all 120 records of photo? Type 120 to do so: ");
        assertThat(DemoDatabase.number(folder, "select count(*) from photo")).isZero();
    }

    @Test
    void aBulkRunSaysWhatItDidAndWhatItLeft() throws Exception {
        Tool.Result result = Tool.run(
                folder,
                "delete",
                "hive",
                "--where",
                "hive_id < 10",
                "--chunk",
                "4",
                "--yes",
                "--name",
                "nine hives",
                "--failures-to",
                "left.csv");

        assertThat(result.status()).as(result.err()).isEqualTo(6);
        assertThat(result.out()).contains("6 of 9 records of hive deleted, 0 skipped, 3 failed, 0 open");
        assertThat(Files.readAllLines(folder.resolve("left.csv")))
                .hasSize(4)
                .startsWith("key,failed,reason")
                .anyMatch(line -> line.startsWith("4,true,") && line.contains("a sold batch must stay traceable"));
        assertThat(DemoDatabase.number(folder, "select count(*) from hive where hive_id < 10"))
                .isEqualTo(3);
        assertThat(Tool.run(folder, "runs").out()).contains("nine hives", "done");
        assertThat(Tool.run(folder, "history").out()).contains("hive 1, 2, 3 ", "hive 5, 7 ", "hive 9 ");
        assertThat(Tool.run(folder, "runs", "show", "LAST").out()).contains("6 of 9 records of hive deleted");
    }

    @Test
    void aChunkThatCantBeIsRefusedBeforeAnythingIsAskedOrMade() throws Exception {
        Tool.Result result = Tool.run(folder, "delete", "hive", "--where", "hive_id < 10", "--chunk", "2000", "--yes");

        assertThat(result.status()).isEqualTo(2);
        assertThat(result.out()).isEmpty();
        assertThat(result.err()).isEqualToIgnoringNewLines("A chunk can't have 2000 records.Take 1 to 1000.");
        assertThat(DemoDatabase.number(
                        folder,
                        "select count(*) from information_schema.tables where lower(table_name) = 'vacancy_bulk_run'"))
                .isZero();
    }

    /** Its process died, say: that it runs is true and not all. */
    @Test
    void aRunThatNobodyWorksOnSaysSo() throws Exception {
        Tool.run(folder, "delete", "hive", "--where", "hive_id between 10 and 12", "--chunk", "1", "--yes");
        DemoDatabase.execute(
                folder,
                "update vacancy_bulk_run set state = 'running', ended_at = null, done = 2, worked_at = '"
                        + Instant.now().minus(Duration.ofMinutes(7)) + "'",
                "update vacancy_bulk_record set state = 'open' where place = 3");

        assertThat(Tool.run(folder, "runs").out()).contains(", nobody has worked on it for 7 min");
        assertThat(Tool.run(folder, "runs", "show", "last").out())
                .contains("nobody has worked on it for 7 min", "to go on: vacancy runs resume ")
                .doesNotContain("records a second");
        assertThat(Tool.run(folder, "runs", "--output", "json").out()).contains("\"workedAt\"");
    }

    @Test
    void aPausedRunIsResumed() throws Exception {
        Tool.Result started = Tool.run(
                folder,
                "delete",
                "hive",
                "--where",
                "hive_id between 10 and 14",
                "--chunk",
                "1",
                "--yes",
                "--output",
                "json");
        String run = started.out().replaceAll("(?s).*\"run\" : \"([^\"]+)\".*", "$1");
        DemoDatabase.execute(
                folder,
                "update vacancy_bulk_run set state = 'running', ended_at = null, done = 4",
                "update vacancy_bulk_record set state = 'open' where place = 5");

        assertThat(Tool.run(folder, "runs", "pause", run.substring(0, 8)).out()).contains(": paused");
        assertThat(Tool.run(folder, "runs", "work").out()).isEmpty();
        Tool.Result resumed = Tool.run(folder, "runs", "resume", run);
        assertThat(resumed.status()).as(resumed.err()).isZero();
        assertThat(resumed.out()).contains(": done", "1 skipped");
        assertThat(Tool.run(folder, "runs", "cancel", run).status()).isEqualTo(2);
        assertThat(Tool.run(folder, "runs", "show", "no-such").err()).contains("No bulk run begins with");
    }

    @Test
    void whoeverIsInterruptedSaysHowToGoOn() throws Exception {
        Process process = new ProcessBuilder(Tool.command(
                        "delete", "reading", "--where", "hive_id <= 20", "--chunk", "20", "--pause", "0.05", "--yes"))
                .directory(folder.toFile())
                .redirectErrorStream(true)
                .start();
        StringBuilder said = new StringBuilder();
        try (BufferedReader output =
                new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8))) {
            for (String line = output.readLine(); line != null; line = output.readLine()) {
                said.append(line).append('\n');
                if (line.contains(": running, ")) {
                    process.toHandle().destroy();
                }
            }
        }
        assertThat(process.waitFor(60, TimeUnit.SECONDS)).isTrue();

        assertThat(said.toString()).contains("To go on: vacancy runs resume ").doesNotContain("failed to");
        String run = said.toString().replaceAll("(?s).*runs resume (\\S+).*", "$1");
        assertThat(DemoDatabase.number(folder, "select count(*) from reading where hive_id <= 20"))
                .isPositive();
        Tool.Result resumed = Tool.run(folder, "runs", "resume", run);
        assertThat(resumed.status()).as(resumed.err()).isZero();
        assertThat(DemoDatabase.number(folder, "select count(*) from reading where hive_id <= 20"))
                .isZero();
        assertThat(DemoDatabase.number(folder, "select count(*) from reading")).isEqualTo(10_000);
    }

    private TerminalRun atTheTerminal(String answer) throws Exception {
        return TerminalRun.of(folder, Map.of(), "to do so: ", answer, "delete", "photo", "--all-records");
    }
}
