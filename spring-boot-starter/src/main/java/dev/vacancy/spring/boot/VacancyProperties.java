package dev.vacancy.spring.boot;

import java.time.Duration;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.boot.context.properties.ConfigurationProperties;
import org.springframework.boot.context.properties.bind.DefaultValue;
import org.springframework.core.io.Resource;

/**
 * What an application says of Vacancy in its properties.
 *
 * @param rules Where the rules stand, such as classpath:vacancy.yaml or file:config/vacancy.yaml. If left out, vacancy.yaml on the class
 *     path where there is one, and else what the schema says. A bean of the type RuleBook comes first.
 * @param mapping Whether what Hibernate's mapping says of deletion becomes rules, where the application says nothing itself.
 * @param schema What becomes of the tables and columns of Vacancy's that the rules need: all are required, all are made, or
 *     only those are required without which nothing can be planned.
 * @param check What becomes of what is wrong or risky in rules and schema at the start.
 * @param limits How far plans and runs may go.
 * @param web Resources over HTTP.
 * @param worker Whether bulk runs are worked on, and scheduled deletions begun, beside the requests of this application.
 * @param scheduled Deletions that are due again and again, by their names. They are scheduled at the start, and changed where they say something else by now.
 * @since 0.1
 */
@ConfigurationProperties("vacancy")
public record VacancyProperties(
        @Nullable Resource rules,
        @DefaultValue("true") boolean mapping,
        @DefaultValue("validate") Schema schema,
        @DefaultValue("warn") Check check,
        @DefaultValue Limits limits,
        @DefaultValue Web web,
        @DefaultValue("false") boolean worker,
        @DefaultValue Map<String, Scheduled> scheduled) {
    /** What becomes of the tables and columns of ours that the rules need. */
    public enum Schema {
        /** The application doesn't start without them. */
        VALIDATE,
        /** They are made at the start. */
        CREATE,
        /** Only those are required without which nothing can be planned. */
        NONE
    }

    /** What becomes of what is wrong or risky in rules and schema. */
    public enum Check {
        /** The application doesn't start. */
        FAIL,
        /** It is written to the log. */
        WARN,
        /** Nobody looks for it. */
        OFF
    }

    /**
     * How far plans and runs may go.
     *
     * @param lockWait How long a statement waits for a record that somebody else holds.
     * @param keysHeld Of how many records of a table the keys are held in memory.
     */
    public record Limits(
            @DefaultValue("5s") Duration lockWait,
            @DefaultValue("10000") int keysHeld) {}

    /**
     * A deletion that is due again and again.
     *
     * @param table The table.
     * @param where Which of its records, as criteria.
     * @param allRecords Whether it is all of them, where no criteria is given.
     * @param atMost Of how many records it may be; of more nothing is deleted.
     * @param every When it is due: a period as in ISO 8601, or a cron expression, with or without the second.
     * @param zone The zone in which days begin; the system's if left out.
     * @param by The program that the trail names; the application's name if left out.
     * @param reason Why.
     * @param exemption The name of the exemption that may keep single records.
     */
    public record Scheduled(
            @Nullable String table,
            @Nullable String where,
            @DefaultValue("false") boolean allRecords,
            @Nullable Long atMost,
            @Nullable String every,
            @Nullable ZoneId zone,
            @Nullable String by,
            @Nullable String reason,
            @Nullable String exemption) {}

    /**
     * Resources over HTTP.
     *
     * @param path Where Vacancy's resources stand, such as /deletions; nowhere if left out. A bean of the type Permissions says who may do what.
     * @param tables The tables that may be named there; all others aren't there.
     * @param signingKeys What approvals are signed with, so that they are redeemed once, and a colleague can agree. The first signs, the others
     *     verify what they signed before. If left out, approvals aren't signed.
     * @param approvalsLast How long a signed approval holds.
     */
    public record Web(
            @Nullable String path,
            @DefaultValue List<String> tables,
            @DefaultValue List<SigningKey> signingKeys,
            @DefaultValue("15m") Duration approvalsLast) {}

    /**
     * What approvals are signed with.
     *
     * @param id Its name, which stands in what it signs.
     * @param secret At least 32 random bytes, as Base64 (RFC 4648, section 4).
     */
    public record SigningKey(String id, String secret) {
        /** Never shows the secret. */
        @Override
        public String toString() {
            return "SigningKey[id=" + id + "]";
        }
    }
}
