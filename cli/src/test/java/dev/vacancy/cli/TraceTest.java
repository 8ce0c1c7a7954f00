package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What is known of a person, at the command line. */
class TraceTest extends OnTheDemo {
    private Tool.Result run(String... arguments) throws Exception {
        return Tool.run(folder, arguments);
    }

    private static List<String> parts(JsonNode trace) {
        return StreamSupport.stream(trace.get("parts").spliterator(), false)
                .map(part -> part.get("relation").asString() + " "
                        + part.get("where").asString() + " " + part.get("count").asLong() + " "
                        + part.get("treatment").asString())
                .toList();
    }

    @Test
    void whatIsKnownIsShownAndNothingChanges() throws Exception {
        Tool.Result shown = run("trace", "keeper", "--key", "3");

        assertThat(shown.status()).as(shown.err()).isZero();
        assertThat(shown.out())
                .startsWith("keeper 3 'Hesper Quill'")
                .contains("text in inspection.note", "If it is erased: 3 deleted, 1 masked, 17 detached.");
        assertThat(parts(json(0, "trace", "keeper", "--key", "3").get("trace")))
                .containsExactly(
                        "record keeper 1 deleted",
                        "belongs to it apiary_keeper.keeper_id 1 deleted",
                        "mentions it inspection.keeper_id 17 detached",
                        "belongs to it placement.keeper_id 1 deleted",
                        "text inspection.note 1 masked");
        assertThat(run("history").out()).doesNotContain("deletion");
    }

    @Test
    void allOfItGoes() throws Exception {
        run("delete", "keeper", "--key", "3", "--reassign", "inspection.keeper_id=5", "--yes");
        Tool.Result without = run("trace", "keeper", "--key", "3", "--erase");
        assertThat(without.status()).isEqualTo(4);
        assertThat(without.err()).contains("Not approved. Nothing was erased.");

        Tool.Result erased = run("trace", "keeper", "--key", "3", "--erase", "--yes", "--reason", "request 17");

        assertThat(erased.status()).as(erased.err()).isZero();
        assertThat(erased.out())
                .contains("audit trail of inspection")
                .contains("Erased what was known of keeper 3: 2 records deleted, 1 place masked,")
                .contains("A second look found nothing.");
        assertThat(run("trace", "keeper", "--key", "3").status()).isEqualTo(5);
        assertThat(run("history", "verify").status()).isZero();
        JsonNode other = json(0, "trace", "keeper", "--key", "4", "--erase", "--yes");
        assertThat(other.get("status").asString()).isEqualTo("erased");
        assertThat(other.get("outcome").get("deleted").get("keeper").asLong()).isEqualTo(1);
        assertThat(json(5, "trace", "keeper", "--key", "99").get("status").asString())
                .isEqualTo("nothing matched");
    }

    @Test
    void aCopyIsWrittenToANewFile() throws Exception {
        Tool.Result copied = run(
                "trace",
                "keeper",
                "--key",
                "3",
                "--export",
                folder.resolve("copy.jsonl").toString());

        assertThat(copied.status()).as(copied.err()).isZero();
        List<String> lines = Files.readAllLines(folder.resolve("copy.jsonl"));
        assertThat(copied.err()).contains("Wrote " + lines.size() + " lines to ");
        assertThat(lines).hasSize(21);
        assertThat(
                        Files.getFileStore(folder).supportsFileAttributeView("posix")
                                ? PosixFilePermissions.toString(
                                        Files.getPosixFilePermissions(folder.resolve("copy.jsonl")))
                                : "rw-------")
                .isEqualTo("rw-------");
        JsonNode first = JsonMapper.builder().build().readTree(lines.get(0));
        assertThat(first.get("relation").asString()).isEqualTo("record");
        assertThat(first.get("values").get("email").asString()).isEqualTo("hesper.quill@larkmoor.example");
        Tool.Result again = run(
                "trace",
                "keeper",
                "--key",
                "3",
                "--export",
                folder.resolve("copy.jsonl").toString());
        assertThat(again.status()).isEqualTo(2);
        assertThat(again.err()).contains("already", "Name another one.");
    }

    @Test
    void whatForbidsItIsTold() throws Exception {
        run("hold", "inspection", "--where", "inspection_id = 74", "--reason", "the inspector asks");

        Tool.Result blocked = run("trace", "keeper", "--key", "3", "--erase", "--yes");

        assertThat(blocked.status()).isEqualTo(3);
        assertThat(blocked.err()).contains("the inspector asks (inspection, hold ", "Blocked. Nothing was erased.");
        assertThat(json(3, "trace", "keeper", "--key", "3", "--erase", "--yes")
                        .get("status")
                        .asString())
                .isEqualTo("blocked");
    }
}
