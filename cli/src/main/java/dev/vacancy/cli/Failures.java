package dev.vacancy.cli;

import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.failure.OutcomeUnknownException;
import dev.vacancy.failure.VacancyException;
import dev.vacancy.plan.BlockedException;
import picocli.CommandLine;
import picocli.CommandLine.IExecutionExceptionHandler;
import picocli.CommandLine.IParameterExceptionHandler;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.ParseResult;
import picocli.CommandLine.UnmatchedArgumentException;

/** Turns every failure into two lines on standard error and an exit status; the cause only for those who ask. */
final class Failures implements IParameterExceptionHandler, IExecutionExceptionHandler {
    private final Surroundings surroundings;

    Failures(Surroundings surroundings) {
        this.surroundings = surroundings;
    }

    @Override
    public int handleParseException(ParameterException wrong, String[] arguments) {
        String command = wrong.getCommandLine().getCommandSpec().qualifiedName();
        surroundings.err().println(wrong.getMessage().replaceFirst("^Error: ", ""));
        if (!UnmatchedArgumentException.printSuggestions(wrong, surroundings.errWriter())) {
            surroundings.err().println("'" + command + " --help' tells how to call it.");
        }
        return ExitStatus.WRONG_USAGE;
    }

    @Override
    public int handleExecutionException(Exception failure, CommandLine line, ParseResult parsed) {
        if (failure instanceof VacancyException known) {
            surroundings.err().println(PlainText.painted(known.problem()));
            surroundings.err().println(PlainText.painted(known.remedy()));
        } else {
            surroundings.err().println("Something went wrong that should not: " + failure);
            surroundings
                    .err()
                    .println("Nothing was changed by what failed. Run it with --verbose and report what it says.");
        }
        if (line.getCommand() instanceof DatabaseCommand command && command.verbose()) {
            failure.printStackTrace(surroundings.err());
        }
        return exitStatus(failure);
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
