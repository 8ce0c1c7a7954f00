package dev.vacancy.cli.verbs;

import dev.vacancy.JsonForm;
import dev.vacancy.Vacancy;
import dev.vacancy.cli.asking.AskedRetirement;
import dev.vacancy.cli.asking.ByOptions;
import dev.vacancy.cli.asking.ColleagueOption;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.showing.PictureOption;
import dev.vacancy.cli.showing.RetirementText;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.picture.RetirementPicture;
import dev.vacancy.retirement.Retired;
import dev.vacancy.retirement.Retirement;
import dev.vacancy.retirement.RetirementPlan;
import dev.vacancy.rule.Ddl;
import java.time.Instant;
import java.time.Period;
import java.time.format.DateTimeParseException;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Sets a column or a table aside that isn't needed any more. */
@Command(
        name = "retire",
        mixinStandardHelpOptions = true,
        description = {
            "Set a column or a table aside that isn't needed any more: show what stands on it and whether anything still uses it,"
                    + " ask, and rename it, so that whatever still uses it fails and can have it back in a moment.",
            "Once its retention is over 'purge' drops it; 'restore RUN' brings it back, before that and after. Without a name,"
                    + " list what has retired."
        },
        footer = "%nExit status: 0 if it was set aside, 3 if something is in the way, 4 if nobody agreed.")
public final class RetireCommand extends DatabaseCommand {
    @Parameters(
            paramLabel = "TABLE[.COLUMN]",
            arity = "0..1",
            description = "The table, or the column of a table; all that has retired if left out.")
    private String name;

    @Option(
            names = "--along",
            paramLabel = "NAME",
            description =
                    "Let something go along that would be in the way, by the name that the plan gives: a view, a trigger, a"
                            + " foreign key of another table such as photo.hive_id. May be given several times.")
    private List<String> along = List.of();

    @Option(
            names = "--kept-for",
            paramLabel = "PERIOD",
            description = "How long it stays set aside before it may be dropped, as in ISO 8601; P30D if left out.")
    private String keptFor;

    @Mixin
    private PictureOption picture;

    @Mixin
    private ColleagueOption colleague;

    @Mixin
    private ByOptions by;

    public RetireCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public int on(Session session) {
        Vacancy vacancy = session.vacancy();
        if (name == null) {
            return list(vacancy.retirements().list());
        }
        Retirement wish = wish(vacancy).along(along.toArray(String[]::new));
        if (keptFor != null) {
            wish = wish.keptFor(period());
        }
        RetirementPlan plan = vacancy.plan(wish, by.by());
        picture.draw(() -> RetirementPicture.of(plan));
        if (!plan.isBlocked()) {
            session.makeTables(Ddl.Part.RETIREMENTS);
        }
        AskedRetirement asked = AskedRetirement.of(this, false, colleague);
        int status = asked.on(vacancy, plan);
        if (json()) {
            print(JsonText.write(asked.view()));
        }
        return status;
    }

    private int list(List<Retired> retired) {
        if (json()) {
            print(JsonText.write(
                    Map.of("retired", retired.stream().map(JsonForm::of).toList())));
        } else {
            print(RetirementText.of(retired, Instant.now()));
        }
        return ExitStatus.DONE;
    }

    /** A name with a point is that of a table in another schema, or of a column. */
    private Retirement wish(Vacancy vacancy) {
        int point = name.lastIndexOf('.');
        boolean isTable = point < 0
                || vacancy.catalog().tables().stream()
                        .anyMatch(table -> table.name().equalsIgnoreCase(name));
        return isTable
                ? Retirement.ofTable(name)
                : Retirement.ofColumn(name.substring(0, point), name.substring(point + 1));
    }

    private Period period() {
        try {
            return Period.parse(keptFor);
        } catch (DateTimeParseException none) {
            throw ToolException.wrongUsage(
                    "'" + keptFor + "' is no period.", "Write it as in ISO 8601, such as P30D or P6M.");
        }
    }
}
