package dev.vacancy.cli.asking;

import dev.vacancy.By;
import picocli.CommandLine.Option;

/** Who wants something, and why. */
public final class ByOptions {
    @Option(names = "--as", paramLabel = "NAME", description = "Who wants it; the system's user if left out.")
    private String actor = System.getProperty("user.name");

    @Option(names = "--reason", paramLabel = "TEXT", description = "Why.")
    private String reason;

    public By by() {
        return By.user(actor).because(reason);
    }
}
