package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
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

    /** A record may hold what a terminal takes for a command, or what turns the text beside it round. */
    @Test
    void whatStandsInARecordCommandsNoTerminal() throws Exception {
        DemoDatabase.execute(
                folder,
                "create table tag (name varchar(40) primary key, note varchar(40))",
                "insert into tag values ('odd' || char(27) || '[2J', char(155) || '31m' || char(8238))",
                "update hive set name = 'Bram' || char(27) || '[2J' || char(155) || '31m' || char(8238) where hive_id = 12");
        String odd = "odd\u001B[2J";

        assertThat(List.of(
                        Tool.run(folder, "preview", "hive", "--key", "12"),
                        Tool.run(folder, "delete", "hive", "--key", "12", "--yes"),
                        Tool.run(folder, "history", "--table", "hive", "--key", "12"),
                        Tool.run(folder, "preview", "tag", "--key", odd),
                        Tool.run(folder, "delete", "tag", "--key", odd, "--expect", "2", "--yes"),
                        Tool.run(folder, "delete", "tag", "--key", odd + "!", "--yes")))
                .allSatisfy(result -> assertThat((result.out() + result.err()).replaceAll("\\R", ""))
                        .isNotEmpty()
                        .doesNotContainPattern("[\\p{Cc}\\u202e]"));
        assertThat(Tool.run(folder, "preview", "hive", "--key", "12").status()).isEqualTo(5);
        TerminalRun seen = TerminalRun.talk(
                folder,
                Map.of("NO_COLOR", "1"),
                List.of(new TerminalRun.Turn("q to leave: ", "?1\r"), new TerminalRun.Turn("q to leave: ", "q\r")),
                "delete",
                "tag");
        assertThat(seen.screen()).contains("note  ").doesNotContain("\u009B", "\u202E", "[2J\u009B");
    }

    private TerminalRun run(Map<String, String> environment, String... arguments) throws Exception {
        return TerminalRun.of(folder, environment, "", "", arguments);
    }
}
