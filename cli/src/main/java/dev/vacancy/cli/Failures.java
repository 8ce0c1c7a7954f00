package dev.vacancy.cli;

import dev.vacancy.BlockedException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.VacancyException;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.cli.terminal.PlainText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.ToolException;
import java.util.LinkedHashMap;
import java.util.Map;
import picocli.CommandLine;
import picocli.CommandLine.IExecutionExceptionHandler;
import picocli.CommandLine.IParameterExceptionHandler;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.ParseResult;
import picocli.CommandLine.UnmatchedArgumentException;

/** Turns every failure into two lines on standard error and an exit status; the cause only for those who ask. */
final class Failures implements IParameterExceptionHandler, IExecutionExceptionHandler {
    private static final String JSON_ASKED = ".*--output[= ]json\\b.*";

    private final Surroundings surroundings;

    Failures(Surroundings surroundings) {
        this.surroundings = surroundings;
    }

    @Override
    public int handleParseException(ParameterException wrong, String[] arguments) {
        String command = wrong.getCommandLine().getCommandSpec().qualifiedName();
        if (String.join(" ", arguments).matches(JSON_ASKED)) {
            printJson(
                    FailureCode.USAGE,
                    wrong.getMessage().replaceFirst("^Error: ", ""),
                    "'" + command + " --help' tells how to call it.");
        }
        surroundings.err().println(wrong.getMessage().replaceFirst("^Error: ", ""));
        if (!UnmatchedArgumentException.printSuggestions(wrong, surroundings.errWriter())) {
            surroundings.err().println("'" + command + " --help' tells how to call it.");
        }
        return ExitStatus.WRONG_USAGE;
    }

    @Override
    public int handleExecutionException(Exception failure, CommandLine line, ParseResult parsed) {
        boolean json = line.getCommand() instanceof DatabaseCommand command && command.json();
        if (failure instanceof VacancyException known) {
            if (json) {
                printJson(known.code(), known.problem(), known.remedy());
            }
            surroundings.err().println(PlainText.painted(known.problem()));
            surroundings.err().println(PlainText.painted(known.remedy()));
        } else {
            surroundings.err().println("Something went wrong that should not: " + failure);
            surroundings
                    .err()
                    .println("Nothing was changed by what failed. Run it with --verbose and report what it says.");
        }
        if (line.getCommand() instanceof DatabaseCommand verb && verb.verbose()) {
            failure.printStackTrace(surroundings.err());
        }
        return exitStatus(failure);
    }

    /** For programs, beside the words for people on standard error. */
    private void printJson(FailureCode code, String problem, String remedy) {
        Map<String, Object> view = new LinkedHashMap<>();
        view.put("failed", code.text());
        view.put("problem", problem);
        view.put("remedy", remedy);
        surroundings.out().println(JsonText.write(view));
    }

    private static int exitStatus(Exception failure) {
        if (failure instanceof ToolException tool) {
            return tool.exitStatus();
        }
        if (failure instanceof VacancyException known
                && (known.code() == FailureCode.NOT_AGREED || known.code() == FailureCode.NO_COLLEAGUE)) {
            return ExitStatus.NOT_APPROVED;
        }
        if (failure instanceof OutcomeUnknownException) {
            return ExitStatus.UNKNOWN;
        }
        if (failure instanceof InvalidRequestException) {
            return ExitStatus.WRONG_USAGE;
        }
        return failure instanceof BlockedException ? ExitStatus.BLOCKED : ExitStatus.FAILED;
    }
}
