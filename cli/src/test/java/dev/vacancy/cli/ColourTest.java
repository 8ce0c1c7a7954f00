package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import org.junit.jupiter.api.Test;

/** Colours tell apart what goes, what stays changed and what forbids; the words tell it too. */
class ColourTest extends OnTheDemo {
    private static final String RED = "\u001B[31m";
    private static final String CYAN = "\u001B[36m";
    private static final String BOLD_MAGENTA = "\u001B[1;35m";

    @Test
    void atATerminalWhatGoesWhatStaysChangedAndWhatForbidsDiffer() throws Exception {
        TerminalRun preview = run(Map.of(), "preview", "hive", "--key", "4");
        TerminalRun keeper = run(Map.of(), "preview", "keeper", "--key", "3", "--reassign", "inspection.keeper_id=7");

        assertThat(preview.shown()).contains(BOLD_MAGENTA + "forbids it", RED + "goes too", BOLD_MAGENTA + "Blocked:");
        assertThat(keeper.shown()).contains(CYAN + "stays, handed over", RED + "Deletes", CYAN + "Changes");
        assertThat(preview.screen()).contains("forbids it", "goes too");
    }

    @Test
    void theMapIsAlignedUnderItsColours() throws Exception {
        TerminalRun map = run(Map.of(), "map", "hive");
        Tool.Result piped = Tool.run(folder, "map", "hive");

        assertThat(map.shown()).contains(RED + "goes too", BOLD_MAGENTA + "forbids it");
        assertThat(map.screen().replace("\r\n", "\n")).isEqualTo(piped.out());
    }

    @Test
    void thereAreNoneWhereNobodyWantsThem() throws Exception {
        assertThat(run(Map.of("NO_COLOR", "1"), "preview", "hive", "--key", "4").shown())
                .contains("forbids it")
                .doesNotContain("\u001B");
        assertThat(Tool.run(folder, "preview", "hive", "--key", "4").out())
                .contains("forbids it")
                .doesNotContain("\u001B");
        assertThat(run(Map.of(), "preview", "hive", "--key", "4", "--output", "json")
                        .shown())
                .doesNotContain("\u001B");
    }

    private TerminalRun run(Map<String, String> environment, String... arguments) throws Exception {
        return TerminalRun.of(folder, environment, "", "", arguments);
    }
}
