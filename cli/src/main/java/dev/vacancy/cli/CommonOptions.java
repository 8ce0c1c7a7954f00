package dev.vacancy.cli;

import java.nio.file.Path;
import picocli.CommandLine.Option;

/** The options that every verb on a database has. */
final class CommonOptions {
    /** The forms in which results come. */
    enum Output {
        /** For people. */
        TEXT,
        /** For programs. */
        JSON
    }

    @Option(
            names = "--config",
            paramLabel = "FILE",
            defaultValue = "vacancy.yaml",
            description = "The configuration; vacancy.yaml in the current folder if left out.")
    private Path config;

    @Option(
            names = "--output",
            paramLabel = "FORM",
            defaultValue = "text",
            description = "text for people, json for programs.")
    private Output output;

    @Option(names = "--verbose", description = "Tell the cause of a failure.")
    private boolean verbose;

    Path config() {
        return config;
    }

    /** What names the configuration once more, if it isn't the usual one. */
    String again() {
        return config.equals(Path.of("vacancy.yaml")) ? "" : " --config " + config;
    }

    boolean json() {
        return output == Output.JSON;
    }

    boolean verbose() {
        return verbose;
    }
}
