package dev.vacancy.yaml;

import dev.vacancy.internal.yaml.ConfigurationReader;
import dev.vacancy.rule.RuleBook;
import java.nio.file.Path;

/**
 * Rules from a {@code vacancy.yaml}, the same for an application and for the command-line tool.
 *
 * <pre>{@code
 * Vacancy vacancy = Vacancy.over(dataSource, RulesFile.read(Path.of("vacancy.yaml")));
 * }</pre>
 *
 * @since 0.1
 */
public final class RulesFile {
    private RulesFile() {}

    /**
     * Reads the rules; what the file says of a database is left to the tool.
     *
     * @param file the file
     * @return the rules
     * @throws dev.vacancy.InvalidRequestException when there is no such file, or something in it isn't understood: all of it at once, each with
     *     its line
     * @throws java.io.UncheckedIOException when the file can't be read
     */
    public static RuleBook read(Path file) {
        return ConfigurationReader.rules(file);
    }

    /**
     * Does the same for a text that comes from elsewhere than a file: from a jar, say.
     *
     * @param text what such a file holds
     * @param name what it is called where something in it isn't understood
     * @return the rules
     * @throws dev.vacancy.InvalidRequestException when something in it isn't understood: all of it at once, each with its line
     */
    public static RuleBook parse(String text, String name) {
        return ConfigurationReader.rules(text, Path.of(name));
    }
}
