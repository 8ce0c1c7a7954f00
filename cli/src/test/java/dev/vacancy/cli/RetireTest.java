package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** Columns and tables that retire, at the command line. */
class RetireTest extends OnTheDemo {
    private TerminalRun answering(String question, String answer, String... arguments) throws Exception {
        return TerminalRun.of(folder, Map.of(), question, answer + "\n", arguments);
    }

    @Test
    void whatStandsOnAColumnIsShownAndNothingChanges() throws Exception {
        JsonNode shown = json(3, "retire", "keeper.email");

        assertThat(shown.get("status").asString()).isEqualTo("blocked");
        assertThat(shown.get("plan").get("dependents").findValuesAsString("fate"))
                .contains("in the way", "kept apart");
        assertThat(shown.get("outcome").isNull()).isTrue();
        assertThat(json(0, "retire").get("retired").isEmpty()).isTrue();
    }

    @Test
    void theNameHasToBeTyped() throws Exception {
        Tool.Result unasked = Tool.run(folder, "retire", "hive.wood");

        assertThat(unasked.status()).isEqualTo(4);
        assertThat(unasked.err()).contains("this one has to be typed", "Not approved. Nothing was changed.");
        assertThat(answering("Type hive.wood to do so: ", "yes", "retire", "hive.wood")
                        .status())
                .isEqualTo(4);
    }

    @Test
    void aColumnIsSetAsideDroppedAndBroughtBack() throws Exception {
        List<String> before = DemoDatabase.rows(folder, "select hive_id, wood from hive order by hive_id");

        TerminalRun aside =
                answering("Type hive.wood to do so: ", "hive.wood", "retire", "hive.wood", "--kept-for", "P0D");
        assertThat(aside.status()).as(aside.screen()).isZero();
        assertThat(aside.screen()).contains("Set aside hive.wood as vacancy_aside_wood_", "brings it back");
        JsonNode retired = json(0, "retire").get("retired").get(0);
        String run = retired.get("run").asString();
        assertThat(Tool.run(folder, "retire").out()).contains("hive.wood", "set aside", "now");

        TerminalRun purged = answering("Type hive.wood to do so: ", "hive.wood", "purge", "--keep-in", "kept");
        assertThat(purged.screen()).contains("Dropped hive.wood; what ");
        try (Stream<Path> files = Files.list(folder.resolve("kept"))) {
            assertThat(files).hasSize(2);
        }
        Tool.Result back = Tool.run(folder, "restore", run.substring(0, 8), "--yes");
        assertThat(back.status()).as(back.err()).isZero();
        assertThat(back.out()).contains("Brought back hive.wood");
        assertThat(DemoDatabase.rows(folder, "select hive_id, wood from hive order by hive_id"))
                .isEqualTo(before);
        assertThat(Tool.run(folder, "history").out()).contains("retirement", "drop", "return");
    }

    @Test
    void aMistakeIsToldInTwoLines() throws Exception {
        assertThat(Tool.run(folder, "retire", "hive.wod").err()).contains("has no column 'wod'");
        assertThat(Tool.run(folder, "retire", "hive.wood", "--along", "wod").err())
                .contains("Nothing that could go along is called 'wod'.");
        assertThat(Tool.run(folder, "retire", "hive.wood", "--kept-for", "a month")
                        .err())
                .contains("is no period");
        assertThat(Tool.run(folder, "retire", "hive.wood", "--kept-for", "P-1D").status())
                .isEqualTo(2);
    }
}
