package dev.vacancy.cli;

/** How a command ended, as the process tells it. */
final class ExitStatus {
    static final int DONE = 0;
    static final int FAILED = 1;
    static final int FINDINGS = 1;
    static final int WRONG_USAGE = 2;
    static final int BLOCKED = 3;
    static final int NOT_APPROVED = 4;
    static final int NOTHING_MATCHED = 5;
    static final int SOME_FAILED = 6;
    static final int UNKNOWN = 7;

    private ExitStatus() {}
}
