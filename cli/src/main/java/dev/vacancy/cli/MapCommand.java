package dev.vacancy.cli;

import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;

/** Shows tables, links and rules as the tool sees them. */
@Command(
        name = "map",
        mixinStandardHelpOptions = true,
        description = "Show tables, links and rules as the tool sees them.")
final class MapCommand implements Callable<Integer>, CommonOptions.Holder {
    private final Surroundings surroundings;

    @Mixin
    private CommonOptions common;

    MapCommand(Surroundings surroundings) {
        this.surroundings = surroundings;
    }

    @Override
    public CommonOptions common() {
        return common;
    }

    @Override
    public Integer call() {
        try (Session session = Session.open(common, surroundings.terminal())) {
            String map = common.json() ? CatalogJson.of(session.vacancy()) : CatalogText.of(session.vacancy());
            surroundings.out().println(map);
            return ExitStatus.DONE;
        }
    }
}
