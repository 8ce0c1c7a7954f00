package dev.vacancy.spring.boot;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.yaml.RulesFile;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import org.jspecify.annotations.Nullable;
import org.springframework.core.io.Resource;
import org.springframework.core.io.ResourceLoader;

/** Rules where Spring finds them: in a file, in a jar, in a jar of a jar. */
final class RulesResource {
    private static final String USUAL = "classpath:vacancy.yaml";

    private RulesResource() {}

    /**
     * Reads the rules.
     *
     * @param given where they stand, if the application says so
     */
    static RuleBook read(@Nullable Resource given, ResourceLoader resources) {
        Resource found = given == null ? resources.getResource(USUAL) : given;
        if (found.exists()) {
            return parsed(found);
        }
        if (given == null) {
            return RuleBook.bySchema();
        }
        throw new InvalidRequestException(
                FailureCode.RULES,
                "There are no rules at " + given.getDescription() + ".",
                "Put them there, or change the property vacancy.rules.");
    }

    private static RuleBook parsed(Resource resource) {
        try {
            String name = resource.getFilename();
            return RulesFile.parse(
                    resource.getContentAsString(StandardCharsets.UTF_8), name == null ? "vacancy.yaml" : name);
        } catch (IOException unreadable) {
            throw new UncheckedIOException(unreadable);
        }
    }
}
