package dev.vacancy.cli;

import dev.vacancy.FailureCode;
import dev.vacancy.VacancyException;

/** Something that the tool itself refuses, with the exit status to end with. */
final class ToolException extends VacancyException {
    private static final long serialVersionUID = 1L;

    private final int exitStatus;

    ToolException(int exitStatus, String problem, String remedy, Throwable cause) {
        super(FailureCode.USAGE, problem, remedy, cause);
        this.exitStatus = exitStatus;
    }

    static ToolException wrongUsage(String problem, String remedy) {
        return new ToolException(ExitStatus.WRONG_USAGE, problem, remedy, null);
    }

    int exitStatus() {
        return exitStatus;
    }
}
