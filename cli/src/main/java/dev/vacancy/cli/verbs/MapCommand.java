package dev.vacancy.cli.verbs;

import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.showing.CatalogText;
import dev.vacancy.cli.showing.PictureOption;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.internal.engine.Engine;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.rules.RulesForm;
import dev.vacancy.picture.MapPicture;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

/** Shows tables, links and rules as the tool sees them. */
@Command(
        name = "map",
        mixinStandardHelpOptions = true,
        description = "Show tables, links and rules as the tool sees them.")
public final class MapCommand extends DatabaseCommand {
    @Parameters(
            arity = "0..1",
            paramLabel = "TABLE",
            description = "Only what a deletion from this table can reach, and what it hangs on.")
    private String table;

    @Mixin
    private PictureOption picture;

    public MapCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public int on(Session session) {
        Rules whole = Engine.rulesOf(session.vacancy());
        Rules shown =
                table == null ? whole : whole.around(session.vacancy().catalog().table(table));
        picture.draw(
                () -> table == null ? MapPicture.of(session.vacancy()) : MapPicture.around(table, session.vacancy()));
        print(json() ? JsonText.write(RulesForm.of(shown)) : CatalogText.of(shown, paint()));
        return ExitStatus.DONE;
    }
}
