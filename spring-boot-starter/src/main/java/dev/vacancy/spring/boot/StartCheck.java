package dev.vacancy.spring.boot;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.TransactionSource;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.RuleBook;
import java.util.List;
import java.util.stream.Collectors;
import javax.sql.DataSource;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** What is looked at when an application starts, so that it isn't found at the first deletion. */
final class StartCheck {
    private static final Logger LOG = LoggerFactory.getLogger(VacancyAutoConfiguration.class);

    private final DataSource source;
    private final RuleBook rules;
    private final TransactionSource transactions;

    StartCheck(DataSource source, RuleBook rules, TransactionSource transactions) {
        this.source = source;
        this.rules = rules;
        this.transactions = transactions;
    }

    void accept(VacancyProperties properties) {
        acceptSchema(properties.schema(), parts(properties));
        acceptFindings(properties.check());
    }

    /** What the properties ask for besides, that stands in the database. */
    private static Ddl.Part[] parts(VacancyProperties properties) {
        return properties.web().signingKeys().isEmpty() ? new Ddl.Part[0] : new Ddl.Part[] {Ddl.Part.APPROVALS};
    }

    private void acceptSchema(VacancyProperties.Schema wanted, Ddl.Part... parts) {
        if (wanted == VacancyProperties.Schema.NONE) {
            return;
        }
        Ddl ddl = Ddl.of(source, rules, transactions, parts);
        if (!ddl.isNeeded()) {
            return;
        }
        if (wanted == VacancyProperties.Schema.VALIDATE) {
            throw new InvalidRequestException(
                    FailureCode.NO_TRAIL,
                    "The database lacks what the rules need: "
                            + ddl.statements().stream().map(StartCheck::begin).collect(Collectors.joining("; ")) + ".",
                    "Add it to the application's migrations, or have it made by vacancy.schema=create.");
        }
        int made = ddl.apply();
        LOG.info("Ran {} statements to make what the rules need in the database", made);
    }

    private static String begin(String statement) {
        return statement.lines().findFirst().orElse("").replaceAll("\\s*\\($", "");
    }

    private void acceptFindings(VacancyProperties.Check wanted) {
        if (wanted == VacancyProperties.Check.OFF) {
            return;
        }
        List<Finding> findings = Vacancy.check(source, rules);
        if (wanted == VacancyProperties.Check.FAIL && !findings.isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    findings.stream().map(StartCheck::text).collect(Collectors.joining(" ")),
                    "Fix that in rules and schema, or have it only logged, by vacancy.check=warn.");
        }
        findings.forEach(finding -> LOG.warn("{}", text(finding)));
    }

    private static String text(Finding finding) {
        return finding.where() + ": " + finding.kind() + ", " + finding.why() + ". Remedy: " + finding.remedy() + ".";
    }
}
