package dev.vacancy.cli;

import picocli.CommandLine.Command;

/** Shows tables, links and rules as the tool sees them. */
@Command(
        name = "map",
        mixinStandardHelpOptions = true,
        description = "Show tables, links and rules as the tool sees them.")
final class MapCommand extends DatabaseCommand {
    MapCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    int on(Session session) {
        String map = json() ? CatalogJson.of(session.vacancy()) : CatalogText.of(session.vacancy());
        print(map);
        return ExitStatus.DONE;
    }
}
