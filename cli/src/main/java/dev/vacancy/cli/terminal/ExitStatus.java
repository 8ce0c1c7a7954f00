package dev.vacancy.cli.terminal;

/** How a command ended, as the process tells it. */
public final class ExitStatus {
    public static final int DONE = 0;
    public static final int FAILED = 1;
    public static final int FINDINGS = 1;
    public static final int WRONG_USAGE = 2;
    public static final int BLOCKED = 3;
    public static final int NOT_APPROVED = 4;
    public static final int NOTHING_MATCHED = 5;
    public static final int SOME_FAILED = 6;
    public static final int UNKNOWN = 7;

    private ExitStatus() {}
}
