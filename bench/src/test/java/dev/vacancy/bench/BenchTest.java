package dev.vacancy.bench;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import picocli.CommandLine;

/** That all contenders delete what they should is seen by each round; here only whether there are figures. */
class BenchTest {
    private static final Pattern LINE =
            Pattern.compile("style=\"[^\"]*(stroke:rgb\\([0-9,]+\\);stroke-width:2;[^\"]*)\"");

    @TempDir
    Path folder;

    @Test
    void eachContenderHasAFigureAndALineInThePlot() throws Exception {
        Path notes = Files.writeString(folder.resolve("notes.md"), "## What the figures say\n");
        int status = new CommandLine(new Bench())
                .execute("--hives=1,2", "--rounds=1", "--stores=H2", "--dir=" + folder, "--notes=" + notes);

        assertThat(status).isZero();
        String page = Files.readString(folder.resolve("benchmarks.md"));
        String plot = Files.readString(folder.resolve("benchmarks-h2.svg"));
        List<Contender> measured = Arrays.stream(Contender.values())
                .filter(contender -> contender.runsOn("H2"))
                .toList();
        for (Contender contender : measured) {
            assertThat(page)
                    .contains("| 1 | 68 | " + contender.label() + " |", "| 2 | 136 | " + contender.label() + " |");
        }
        assertThat(LINE.matcher(plot).results().map(line -> line.group(1)).distinct())
                .as("a line of another colour or kind for each contender, and one for the plan")
                .hasSize(measured.size() + 1);
        assertThat(page)
                .contains("H2 2.", "Vacancy plan / Vacancy run", "Vacancy delete / own cascade")
                .endsWith("## What the figures say\n");
    }

    @Test
    void documentsGoByHandAndByVacancy() {
        assertThat(new UnderOneDocument(20, 1, Optional.empty()).page().lines())
                .hasSize(5)
                .last()
                .asString()
                .startsWith("| `vacancy.delete` with a trail |");
    }

    @Test
    void processesThatShareTheirWorkHaveFiguresAndALineEach() throws Exception {
        String page = new Workers(20, 1, 1, 2).page(folder);

        assertThat(page.lines())
                .hasSize(6)
                .anyMatch(line -> line.matches("\\| bulk run with a trail: records \\| [0-9,]+ \\| [0-9,]+ \\|"));
        assertThat(LINE.matcher(Files.readString(folder.resolve("benchmarks-workers.svg")))
                        .results()
                        .map(line -> line.group(1))
                        .distinct())
                .hasSize(4);
    }

    @Test
    void thoseWhoWaitSendTheServerStatementsToo() throws Exception {
        assertThat(new Idle(2).text().lines())
                .hasSize(6)
                .filteredOn(line -> line.contains("worker"))
                .hasSize(3)
                .allMatch(line -> line.matches("\\| .* \\| (?!0\\.0)[0-9.]+ \\|"));
    }

    @Test
    void eachWayOfDeletingAggregatesHasAFigure() throws Exception {
        String page = new Aggregates(3, 1).page();

        assertThat(page.lines())
                .hasSize(7)
                .anyMatch(line -> line.matches("\\| `Deletions`: delete each by id \\| [0-9.,]+ \\| [0-9.]+ \\|"));
    }
}
