package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.cli.terminal.Surroundings;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import picocli.CommandLine;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Model.PositionalParamSpec;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The pages of the command line and of its configuration say what these say; {@code -Dvacancy.test.write=true} writes them anew. */
class ReferenceTest {
    private static final Path REFERENCE = Path.of("../docs/reference");

    @Test
    void thePageOfTheCommandLineHasEachVerbAndOption() throws Exception {
        StringBuilder page = new StringBuilder("""
                # The command line

                `./vacancy VERB`, with a `vacancy.yaml` in the current folder or `--config FILE`. `--output json` gives programs the same
                ([schema](../output.schema.json)); `NO_COLOR` switches colours off. The manual pages have all of this too:
                `man -l docs/manual/vacancy-delete.1`.

                | exit status | |
                |---|---|
                | 0 | done |
                | 1 | failed, and nothing was changed; `check` found something, `history verify` a change |
                | 2 | wrong usage or configuration |
                | 3 | blocked |
                | 4 | not approved |
                | 5 | nothing matched |
                | 6 | some records are left and the others deleted |
                | 7 | nobody knows whether it was done |

                """);
        for (Map.Entry<String, CommandLine> verb :
                Main.commandLine(Surroundings.ofThisProcess()).getSubcommands().entrySet()) {
            CommandSpec spec = verb.getValue().getCommandSpec();
            if (!spec.usageMessage().hidden() && !verb.getKey().equals("help")) {
                page.append(section(verb.getKey(), spec));
            }
        }
        assertPage("command-line.md", page.toString().strip() + "\n");
    }

    private static String section(String verb, CommandSpec spec) {
        String parameters = spec.positionalParameters().stream()
                .map(PositionalParamSpec::paramLabel)
                .distinct()
                .map(label -> " " + label)
                .collect(Collectors.joining());
        String rows = spec.positionalParameters().stream()
                        .map(parameter -> row(parameter.paramLabel(), parameter.description()))
                        .distinct()
                        .collect(Collectors.joining())
                + spec.options().stream()
                        .filter(option -> !option.hidden() && !option.usageHelp() && !option.versionHelp())
                        .map(option -> row(names(option), option.description()))
                        .collect(Collectors.joining());
        return "## " + verb + parameters + "\n\n"
                + String.join(" ", spec.usageMessage().description()) + "\n\n"
                + (rows.isEmpty() ? "" : "| | |\n|---|---|\n" + rows + "\n");
    }

    private static String names(OptionSpec option) {
        String label = option.arity().max() == 0 ? "" : " " + option.paramLabel();
        return String.join(", ", option.names()) + label;
    }

    private static String row(String what, String... description) {
        return "| `" + what + "` | "
                + String.join(" ", description)
                        .replace("|", "\\|")
                        .replace("%n", " ")
                        .replace("%%", "%") + " |\n";
    }

    @Test
    void thePageOfTheConfigurationHasEachWordOfItsSchema() throws Exception {
        JsonNode schema = JsonMapper.shared().readTree(Files.readString(Path.of("../docs/vacancy.schema.json")));
        StringBuilder page = new StringBuilder("""
                # vacancy.yaml

                What the command line works on, and the [rules](../guide/rules.md). Editors complete it by
                [its schema](../vacancy.schema.json); `./vacancy demo` makes one that shows most of it, with comments. All that is wrong with it is
                reported at once, each with its line.

                """);
        for (Map.Entry<String, JsonNode> section : schema.get("properties").properties()) {
            page.append("## ").append(section.getKey()).append("\n\n");
            page.append(section.getValue().path("description").asString("Where the database is."))
                    .append("\n\n");
            describe(section.getValue(), "", page);
            page.append('\n');
        }
        page.append("## A clause\n\nOne of these words, with `where` beside it if it is for some children only.\n\n");
        describe(schema.get("$defs").get("clause"), "", page);
        assertPage("configuration.md", page.toString().strip() + "\n");
    }

    /** Each word with its description, those inside it behind its name. */
    private static void describe(JsonNode node, String before, StringBuilder page) {
        for (Map.Entry<String, JsonNode> word : node.path("properties").properties()) {
            String description = word.getValue().path("description").asString("");
            if (!description.isEmpty()) {
                page.append("- `")
                        .append(before)
                        .append(word.getKey())
                        .append("`: ")
                        .append(description)
                        .append('\n');
            }
            describe(word.getValue(), before + word.getKey() + ": ", page);
        }
        for (String kind : List.of("additionalProperties", "items")) {
            if (node.path(kind).isObject()) {
                describe(node.get(kind), before, page);
            }
        }
        for (String kind : List.of("oneOf", "anyOf", "allOf")) {
            for (JsonNode part : node.path(kind)) {
                describe(part, before, page);
            }
        }
    }

    private static void assertPage(String name, String page) throws Exception {
        Path file = REFERENCE.resolve(name);
        if (Boolean.getBoolean("vacancy.test.write")) {
            Files.writeString(file, page);
        }
        assertThat(file).content().isEqualTo(page);
    }
}
