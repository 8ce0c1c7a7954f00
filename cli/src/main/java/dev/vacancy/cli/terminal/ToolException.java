package dev.vacancy.cli.terminal;

import dev.vacancy.FailureCode;
import dev.vacancy.VacancyException;

/** Something that the tool itself refuses, with the exit status to end with. */
public final class ToolException extends VacancyException {
    private static final long serialVersionUID = 1L;

    private final int exitStatus;

    public ToolException(int exitStatus, String problem, String remedy, Throwable cause) {
        super(FailureCode.USAGE, problem, remedy, cause);
        this.exitStatus = exitStatus;
    }

    public static ToolException wrongUsage(String problem, String remedy) {
        return new ToolException(ExitStatus.WRONG_USAGE, problem, remedy, null);
    }

    public int exitStatus() {
        return exitStatus;
    }
}
