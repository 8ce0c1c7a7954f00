package dev.vacancy.cli.configuration;

import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import picocli.CommandLine.Option;

/** The options that every verb on a database has. */
public final class CommonOptions {
    private static final String CONFIG = "--config";
    private static final String USUAL_CONFIG = "vacancy.yaml";
    private static final Set<String> NO_DATABASE = Set.of("-h", "--help", "-V", "--version");

    /** The forms in which results come. */
    enum Output {
        /** For people. */
        TEXT,
        /** For programs. */
        JSON
    }

    @Option(
            names = CONFIG,
            paramLabel = "FILE",
            defaultValue = USUAL_CONFIG,
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

    /**
     * Guesses the configuration from arguments that nobody has understood yet; empty where no database is asked for, and where
     * some of them are in a file.
     */
    public static Optional<Path> configIn(List<String> arguments, Path folder) {
        if (arguments.stream().anyMatch(argument -> NO_DATABASE.contains(argument) || argument.startsWith("@"))) {
            return Optional.empty();
        }
        int option = arguments.indexOf(CONFIG);
        String file = option >= 0 && option + 1 < arguments.size() ? arguments.get(option + 1) : USUAL_CONFIG;
        for (String argument : arguments) {
            file = argument.startsWith(CONFIG + "=") ? argument.substring(CONFIG.length() + 1) : file;
        }
        try {
            return Optional.of(folder.resolve(file));
        } catch (InvalidPathException wrong) {
            return Optional.empty();
        }
    }

    public Path config() {
        return config;
    }

    /** What names the configuration once more, if it isn't the usual one. */
    public String again(Path folder) {
        return config.equals(folder.resolve(USUAL_CONFIG)) ? "" : " " + CONFIG + " " + config;
    }

    public boolean json() {
        return output == Output.JSON;
    }

    public boolean verbose() {
        return verbose;
    }
}
