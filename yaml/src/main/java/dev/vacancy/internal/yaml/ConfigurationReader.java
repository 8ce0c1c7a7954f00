package dev.vacancy.internal.yaml;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.rule.RuleBook;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import tools.jackson.core.JacksonException;

/** Reads {@code vacancy.yaml}, and tells all that is wrong with it at once, each with its line. */
public final class ConfigurationReader {
    private static final List<String> SECTIONS = List.of(
            "database",
            "links",
            "rules",
            "labels",
            "markers",
            "deletes",
            "versions",
            "modified",
            "consent",
            "trail",
            "follow-ups",
            "traces",
            "ignore-changes-in",
            "owned-parents",
            "schemas",
            "servers");
    private static final List<String> DATABASE_WORDS = List.of("url", "user", "password-variable");
    private static final Pattern SECRET_IN_URL = Pattern.compile("(?i)([?;&]\\s*password=)|(//[^/@]*:[^/@]*@)");

    private final Path file;
    private final Problems problems;
    private final YamlNode.Mapping whole;
    private Optional<Address> address = Optional.empty();

    private ConfigurationReader(Path file) {
        this(file, text(file));
    }

    private ConfigurationReader(Path file, String text) {
        this.file = file;
        this.problems = new Problems(file);
        this.whole = mapping(parse(text), "The file", SECTIONS);
    }

    public static Configuration read(Path file) {
        return begin(file).whole();
    }

    /** Reads where the database is. The rules take longer, and are read by {@link #whole}. */
    public static ConfigurationReader begin(Path file) {
        ConfigurationReader reader = new ConfigurationReader(file);
        reader.address = reader.readAddress();
        return reader;
    }

    /** Where the database is; empty if something is wrong with what the file says of it. */
    public Optional<Address> address() {
        return address;
    }

    /** Reads the rules of a file, which may say nothing of a database. */
    public static RuleBook rules(Path file) {
        return rules(new ConfigurationReader(file));
    }

    /** Reads the rules of a text that comes from elsewhere than a file. */
    public static RuleBook rules(String text, Path name) {
        return rules(new ConfigurationReader(name, text));
    }

    private static RuleBook rules(ConfigurationReader reader) {
        RuleBook rules = new RulesSections(reader.problems).read(reader.whole);
        reader.problems.refuse();
        return rules;
    }

    /** Reads the rest, and refuses all that is wrong. */
    public Configuration whole() {
        RuleBook rules = new RulesSections(problems).read(whole);
        problems.refuse();
        return new Configuration(address.orElseThrow(), rules);
    }

    private Optional<Address> readAddress() {
        YamlNode.Mapping database = whole.get("database")
                .map(section -> mapping(section, "database", DATABASE_WORDS))
                .orElseGet(() -> {
                    problems.add(whole.line(), "there is no 'database' section that says what to connect to");
                    return new YamlNode.Mapping(whole.line(), Map.of());
                });
        String url = text(database, "url").orElse("");
        if (url.isBlank() && whole.get("database").isPresent()) {
            problems.add(database.line(), "'database' has no 'url', such as jdbc:postgresql://localhost/larkmoor");
        }
        if (SECRET_IN_URL.matcher(url).find()) {
            problems.add(
                    database.get("url").orElse(database).line(),
                    "'url' holds a password; take it out and put it into the environment variable "
                            + Address.USUAL_PASSWORD_VARIABLE);
        }
        Address read = new Address(
                url.replace("{folder}", folder()),
                text(database, "user").orElse(""),
                text(database, "password-variable").orElse(Address.USUAL_PASSWORD_VARIABLE));
        return problems.none() ? Optional.of(read) : Optional.empty();
    }

    private static String text(Path file) {
        if (!Files.isRegularFile(file)) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "There is no configuration '" + file + "'.",
                    "Go to the folder that has one, name it with --config FILE, or make one with the verb demo.");
        }
        try {
            return Files.readString(file);
        } catch (IOException unreadable) {
            throw new UncheckedIOException(unreadable);
        }
    }

    private YamlNode parse(String text) {
        try {
            return YamlNode.parse(text);
        } catch (JacksonException wrong) {
            int line = wrong.getLocation() == null ? 1 : wrong.getLocation().getLineNr();
            String what = wrong.getOriginalMessage().lines().findFirst().orElse("");
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    file + ", line " + line + ": this is not YAML: " + what + ".",
                    "Fix that line and try again.");
        }
    }

    private YamlNode.Mapping mapping(YamlNode node, String what, List<String> words) {
        if (!(node instanceof YamlNode.Mapping mapping)) {
            problems.add(node.line(), what + " must be a mapping with " + String.join(", ", words));
            return new YamlNode.Mapping(node.line(), Map.of());
        }
        mapping.entries().forEach((word, value) -> {
            if (word.equals("password")) {
                problems.add(
                        value.line(),
                        "a password doesn't belong here; put it into the environment variable "
                                + Address.USUAL_PASSWORD_VARIABLE);
            } else if (!words.contains(word)) {
                problems.unknown(value.line(), word, words);
            }
        });
        return mapping;
    }

    private Optional<String> text(YamlNode.Mapping mapping, String word) {
        Optional<YamlNode> node = mapping.get(word);
        if (node.isPresent() && !(node.get() instanceof YamlNode.Scalar)) {
            problems.add(node.get().line(), "'" + word + "' must be a text");
            return Optional.empty();
        }
        return node.map(scalar -> ((YamlNode.Scalar) scalar).text());
    }

    private String folder() {
        Path parent = file.toAbsolutePath().normalize().getParent();
        return parent.toString().replace('\\', '/');
    }
}
