package dev.vacancy.cli;

import dev.vacancy.Vacancy;
import dev.vacancy.cli.picture.MapPicture;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;

/** Shows tables, links and rules as the tool sees them. */
@Command(
        name = "map",
        mixinStandardHelpOptions = true,
        description = "Show tables, links and rules as the tool sees them.")
final class MapCommand extends DatabaseCommand {
    @Mixin
    private PictureOption picture;

    MapCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    int on(Session session) {
        Vacancy vacancy = session.vacancy();
        picture.draw(() -> MapPicture.of(vacancy.rules()));
        print(json() ? CatalogJson.of(vacancy) : CatalogText.of(vacancy));
        return ExitStatus.DONE;
    }
}
