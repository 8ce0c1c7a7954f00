package dev.vacancy.internal.tables;

import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.tables.OwnTable.OwnIndex;
import dev.vacancy.rule.Trail;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * All tables of ours.
 *
 * @since 0.1
 */
public final class OwnTables {
    private static final String NUMBER = "bigint";
    private static final String MOMENT = "timestamp(6)";
    private static final int UUID = 36;
    private static final int DIGEST = 64;
    private static final int TIME = 40;
    private static final int ACTOR = 200;
    private static final int REASON = 1_000;
    private static final int TABLE_NAME = 300;
    private static final int FOLLOW_UP_NAME = 60;

    /** Bulk runs: times are text as in ISO 8601, UTC. */
    public static final OwnTable BULK_RUN = table(
            "vacancy_bulk_run",
            List.of(
                    OwnColumn.text("run_id", UUID),
                    OwnColumn.text("name", 400),
                    OwnColumn.text("selected_table", TABLE_NAME),
                    OwnColumn.text("selection", 2_000),
                    OwnColumn.text("actor", ACTOR),
                    OwnColumn.text("reason", REASON).optional(),
                    OwnColumn.longText("handed_over"),
                    OwnColumn.text("rules", DIGEST),
                    OwnColumn.text("state", 12),
                    OwnColumn.of("records", NUMBER),
                    OwnColumn.of("done", NUMBER),
                    OwnColumn.of("skipped", NUMBER),
                    OwnColumn.of("failed", NUMBER),
                    OwnColumn.of("deleted", NUMBER),
                    OwnColumn.text("started_at", TIME),
                    OwnColumn.text("ended_at", TIME).optional(),
                    OwnColumn.text("worked_at", TIME).optional()),
            List.of("run_id"));

    /** The records of bulk runs, a line each. */
    public static final OwnTable BULK_RECORD = table(
            "vacancy_bulk_record",
            List.of(
                    OwnColumn.text("run_id", UUID),
                    OwnColumn.of("place", NUMBER),
                    OwnColumn.key("record_key"),
                    OwnColumn.text("state", 8),
                    OwnColumn.of("attempts", "integer"),
                    OwnColumn.text("reason", REASON).optional(),
                    OwnColumn.text("begun", REASON).optional()),
            List.of("run_id", "place"),
            OwnIndex.of("vacancy_bulk_record_open", "run_id", "state", "place"));

    /** What each of several servers has done of a bulk run, so that none has to wait for another to count. */
    public static final OwnTable BULK_SHARE = table(
            "vacancy_bulk_share",
            List.of(
                    OwnColumn.text("run_id", UUID),
                    OwnColumn.of("server", NUMBER),
                    OwnColumn.of("done", NUMBER),
                    OwnColumn.of("skipped", NUMBER),
                    OwnColumn.of("failed", NUMBER),
                    OwnColumn.of("deleted", NUMBER),
                    OwnColumn.text("worked_at", TIME)),
            List.of("run_id", "server"));

    /** Signed approvals that were redeemed, each with what came of it. */
    public static final OwnTable REDEEMED = table(
            "vacancy_redeemed",
            List.of(
                    OwnColumn.text("approval_id", UUID),
                    OwnColumn.text("expires_at", TIME),
                    OwnColumn.text("run_id", UUID).optional(),
                    OwnColumn.text("table_name", TABLE_NAME).optional(),
                    OwnColumn.text("done_at", TIME).optional(),
                    OwnColumn.longText("counts").optional(),
                    OwnColumn.longText("marked").optional(),
                    OwnColumn.longText("changed").optional()),
            List.of("approval_id"),
            OwnIndex.of("vacancy_redeemed_by_end", "expires_at"));

    /** Scheduled deletions, in the columns that db-scheduler asks for. */
    public static final OwnTable SCHEDULED = table(
            "vacancy_scheduled",
            List.of(
                    OwnColumn.text("task_name", 100),
                    OwnColumn.text("task_instance", 100),
                    OwnColumn.text("task_data", 4_000).optional(),
                    OwnColumn.of("execution_time", MOMENT).optional(),
                    OwnColumn.of("picked", "boolean"),
                    OwnColumn.text("picked_by", 100).optional(),
                    OwnColumn.of("last_success", MOMENT).optional(),
                    OwnColumn.of("last_failure", MOMENT).optional(),
                    OwnColumn.of("consecutive_failures", "integer").optional(),
                    OwnColumn.of("last_heartbeat", MOMENT).optional(),
                    OwnColumn.of("version", NUMBER)),
            List.of("task_name", "task_instance"));

    /** What follows outside of the database, a message each until it was handled. */
    public static final OwnTable FOLLOW_UP = table(
            "vacancy_follow_up",
            List.of(
                    OwnColumn.text("message_id", UUID),
                    OwnColumn.text("follow_up", FOLLOW_UP_NAME),
                    OwnColumn.of("place", NUMBER),
                    OwnColumn.of("step", "integer"),
                    OwnColumn.of("entry", NUMBER),
                    OwnColumn.text("action", 12),
                    OwnColumn.text("table_name", 200),
                    OwnColumn.key("record_key").optional(),
                    OwnColumn.text("record_digest", DIGEST),
                    OwnColumn.longText("values_before").optional(),
                    OwnColumn.longText("values_after").optional(),
                    OwnColumn.text("run_id", UUID),
                    OwnColumn.text("actor", ACTOR),
                    OwnColumn.text("reason", REASON).optional(),
                    OwnColumn.text("happened_at", 30),
                    OwnColumn.text("state", 8),
                    OwnColumn.of("attempts", "integer"),
                    OwnColumn.text("due_at", 30),
                    OwnColumn.text("failure", REASON).optional()),
            List.of("message_id"),
            OwnIndex.of("vacancy_follow_up_next", "follow_up", "state", "place", "step", "entry"),
            OwnIndex.of("vacancy_follow_up_record", "record_digest"));

    /** How far the trail was read for each follow-up: the last run that was read to its end, and the last entry of the one behind it. */
    public static final OwnTable FOLLOW_UP_PLACE = table(
            "vacancy_follow_up_place",
            List.of(
                    OwnColumn.text("follow_up", FOLLOW_UP_NAME),
                    OwnColumn.of("place", NUMBER),
                    OwnColumn.of("step", "integer"),
                    OwnColumn.of("entry", NUMBER)),
            List.of("follow_up"));

    /** Columns and tables that have retired: how far each has come, and how it comes back. */
    public static final OwnTable RETIREMENT = table(
            "vacancy_retirement",
            List.of(
                    OwnColumn.text("retirement_id", UUID),
                    OwnColumn.text("table_name", 200),
                    OwnColumn.text("column_name", 200).optional(),
                    OwnColumn.text("stored_schema", 200),
                    OwnColumn.text("stored_table", 200),
                    OwnColumn.text("stored_column", 200).optional(),
                    OwnColumn.text("name_aside", 100),
                    OwnColumn.text("state", 12),
                    OwnColumn.of("done", "integer"),
                    OwnColumn.text("actor", ACTOR),
                    OwnColumn.of("by_program", "integer"),
                    OwnColumn.text("reason", REASON).optional(),
                    OwnColumn.text("set_aside_at", 30),
                    OwnColumn.text("due_at", 30),
                    OwnColumn.longText("script"),
                    OwnColumn.longText("text_aside").optional(),
                    OwnColumn.longText("files").optional()),
            List.of("retirement_id"));

    private OwnTables() {}

    private static OwnTable table(String name, List<OwnColumn> columns, List<String> key, OwnIndex... indexes) {
        return new OwnTable(Optional.empty(), name, columns, key, List.of(), List.of(indexes));
    }

    /**
     * Defines the table of the runs of a trail.
     *
     * @param schema its schema, if any
     * @param name its name
     * @return the table
     */
    public static OwnTable trailRuns(Optional<String> schema, String name) {
        return new OwnTable(
                schema,
                name,
                List.of(
                        OwnColumn.of("place", NUMBER),
                        OwnColumn.of("run_no", NUMBER),
                        OwnColumn.text("run_id", UUID),
                        OwnColumn.text("kind", 20),
                        OwnColumn.text("actor", ACTOR),
                        OwnColumn.text("colleague", ACTOR).optional(),
                        OwnColumn.text("reason", REASON).optional(),
                        OwnColumn.text("happened_at", 30),
                        OwnColumn.text("table_name", 200),
                        OwnColumn.longText("selection"),
                        OwnColumn.text("rules", DIGEST),
                        OwnColumn.longText("counts"),
                        OwnColumn.text("part_of", UUID).optional(),
                        OwnColumn.text("about", UUID).optional(),
                        OwnColumn.of("entries", NUMBER),
                        OwnColumn.text("entries_digest", DIGEST),
                        OwnColumn.text("previous_digest", DIGEST),
                        OwnColumn.text("digest", DIGEST),
                        OwnColumn.text("selection_salt", UUID).optional(),
                        OwnColumn.text("selection_digest", DIGEST),
                        OwnColumn.of("erased_by", NUMBER).optional()),
                List.of("place"),
                List.of("run_no", "run_id"),
                List.of(OwnIndex.of(name + "_whole", "part_of"), OwnIndex.of(name + "_undone", "about")));
    }

    /**
     * Defines the table of the entries of a trail.
     *
     * @param schema its schema, if any
     * @param name its name
     * @return the table
     */
    public static OwnTable trailEntries(Optional<String> schema, String name) {
        return new OwnTable(
                schema,
                name,
                List.of(
                        OwnColumn.of("run_no", NUMBER),
                        OwnColumn.of("step", "integer"),
                        OwnColumn.of("place", NUMBER),
                        OwnColumn.text("action", 12),
                        OwnColumn.text("table_name", 200),
                        OwnColumn.key("record_key").optional(),
                        OwnColumn.longText("content").optional(),
                        OwnColumn.longText("altered").optional(),
                        OwnColumn.of("about_run", NUMBER).optional(),
                        OwnColumn.of("about_step", "integer").optional(),
                        OwnColumn.of("about_place", NUMBER).optional(),
                        OwnColumn.of("erased_by", NUMBER).optional(),
                        OwnColumn.of("seal", Dialect::bytesType),
                        OwnColumn.of("digest", Dialect::bytesType)),
                List.of("run_no", "step", "place"),
                List.of(),
                List.of(new OwnIndex(name + "_key", List.of("table_name", "record_key"), true)));
    }

    /**
     * Returns what makes some tables.
     *
     * @param tables the tables
     * @param dialect the dialect of the database
     * @return statements in their order
     */
    public static List<String> ddl(List<OwnTable> tables, Dialect dialect) {
        return tables.stream().flatMap(table -> table.ddl(dialect).stream()).toList();
    }

    /**
     * Returns what is missing of some tables.
     *
     * @param tables the tables
     * @param dialect the dialect of the database
     * @param connection an open connection
     * @return statements in their order; none if they are as they should be
     * @throws SQLException when the database doesn't answer
     */
    public static List<String> missing(List<OwnTable> tables, Dialect dialect, Connection connection)
            throws SQLException {
        List<String> statements = new ArrayList<>();
        for (OwnTable table : tables) {
            statements.addAll(table.missing(dialect, connection));
        }
        return statements;
    }

    /**
     * Returns the tables of bulk runs.
     *
     * @param dialect the dialect of the database
     * @return two, and one more where several servers work on a run
     */
    public static List<OwnTable> ofBulkRuns(Dialect dialect) {
        return dialect.locksAreLocal() ? List.of(BULK_RUN, BULK_RECORD, BULK_SHARE) : List.of(BULK_RUN, BULK_RECORD);
    }

    /**
     * Names the tables that Vacancy keeps for itself, which belong to no catalog: those of the trail, of bulk runs, of redeemed approvals,
     * of scheduled runs and of what follows runs.
     *
     * @param trail where the trail is kept; empty for none
     * @return their names
     */
    public static List<String> namesFor(Optional<Trail> trail) {
        Trail kept = trail.orElseGet(Trail::defaults);
        return Stream.concat(
                        Stream.of(kept.runs(), kept.entries()),
                        Stream.of(
                                        BULK_RUN,
                                        BULK_RECORD,
                                        BULK_SHARE,
                                        REDEEMED,
                                        SCHEDULED,
                                        FOLLOW_UP,
                                        FOLLOW_UP_PLACE,
                                        RETIREMENT)
                                .map(OwnTable::name))
                .toList();
    }
}
