package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.util.List;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Who leaves, comes back, is found, forgotten or held: the verbs around the audit trail, as a person and a program use them. */
class TrailCommandsTest extends OnTheDemo {
    private static final String[] LEAVE = {
        "delete",
        "keeper",
        "--key",
        "3",
        "--reassign",
        "inspection.keeper_id=7",
        "--as",
        "odile",
        "--reason",
        "moved away",
        "--yes"
    };

    private long number(String query) throws Exception {
        return DemoDatabase.number(folder, query);
    }

    @Test
    void aKeeperLeavesIsFoundAndComesBack() throws Exception {
        JsonNode left = json(0, LEAVE);
        JsonNode deleted = json(0, "deleted", "keeper");
        long active = number("select count(*) from keeper where left_at is null");
        JsonNode back = json(0, "restore", left.get("run").asString(), "--yes", "--as", "una");
        JsonNode again = json(0, "deleted", "keeper");

        assertThat(left.get("marked").get(0).asString()).isEqualTo("keeper");
        assertThat(left.get("recorded").asBoolean()).isTrue();
        assertThat(deleted).hasSize(2);
        assertThat(deleted.get(0).get("key").asString()).isEqualTo("3");
        assertThat(deleted.get(0).get("actor").asString()).isEqualTo("odile");
        assertThat(deleted.get(0).get("reason").asString()).isEqualTo("moved away");
        assertThat(deleted.get(0).get("daysLeft").asInt()).isEqualTo(15);
        assertThat(deleted.get(0).get("run")).isEqualTo(left.get("run"));
        assertThat(active).isEqualTo(10);
        assertThat(back.get("status").asString()).isEqualTo("done");
        assertThat(back.get("counts").get("keeper").asInt()).isEqualTo(1);
        assertThat(back.get("putBack").get("inspection.keeper_id").asInt()).isEqualTo(17);
        assertThat(back.get("conflicts")).isEmpty();
        assertThat(number("select count(*) from keeper where left_at is null")).isEqualTo(11);
        assertThat(number("select count(*) from inspection where keeper_id = 3"))
                .isEqualTo(17);
        assertThat(again).hasSize(1);
    }

    @Test
    void aHiveDeletedByMistakeComesBackWithItsReadings() throws Exception {
        json(0, "delete", "hive", "--key", "12", "--yes", "--as", "tam");
        long readings = number("select count(*) from reading");
        Tool.Result asked = Tool.run(folder, "restore", "last");
        Tool.Result done = Tool.run(folder, "restore", "last", "--yes");
        Tool.Result nothing = Tool.run(folder, "restore", "last", "--yes");

        assertThat(readings).isEqualTo(19_500);
        assertThat(asked.status()).isEqualTo(4);
        assertThat(asked.err()).contains("Bring back 617 records that tam deleted, and put back 1 link?");
        assertThat(done.status()).isZero();
        assertThat(done.out()).contains("Brought back 617 records").contains("queen.mother_id");
        assertThat(number("select count(*) from reading")).isEqualTo(20_000);
        assertThat(number(
                        "select count(*) from hive h join queen q on q.queen_id = h.queen_id and q.hive_id = h.hive_id"
                                + " where h.hive_id = 12"))
                .isEqualTo(1);
        assertThat(nothing.status()).isEqualTo(2);
        assertThat(nothing.err()).contains("There is no run that could be undone.");
    }

    @Test
    void ofSeveralHivesOneComesBack() throws Exception {
        JsonNode gone = json(0, "delete", "hive", "--key", "12", "--key", "13", "--yes");
        JsonNode back = json(0, "restore", "last", "--only", "hive=13", "--yes");
        Tool.Result unknown = Tool.run(folder, "restore", "last", "--only", "hive=7", "--yes");
        Tool.Result wrong = Tool.run(folder, "restore", "last", "--only", "hive", "--yes");

        assertThat(gone.get("counts").get("hive").asInt()).isEqualTo(2);
        assertThat(back.get("counts").get("hive").asInt()).isEqualTo(1);
        assertThat(back.get("counts").get("reading").asInt()).isEqualTo(500);
        assertThat(number("select count(*) from hive where hive_id in (12, 13)"))
                .isEqualTo(1);
        assertThat(unknown.status()).isEqualTo(2);
        assertThat(unknown.err()).contains("knows nothing of hive 7");
        assertThat(wrong.err()).contains("TABLE=KEY");
    }

    @Test
    void manyRecordsComeBackInPortionsAndGoAsAWhole() throws Exception {
        json(0, "delete", "hive", "--key", "12", "--yes");
        Tool.Result back = Tool.run(folder, "restore", "last", "--chunk", "200", "--yes", "--output", "json");
        String restore = JsonMapper.shared().readTree(back.out()).get("run").asString();
        Tool.Result again = Tool.run(folder, "restore", restore.substring(0, 8), "--yes");

        assertThat(back.err())
                .containsPattern("Brought back [0-9]+ of [0-9,]+ records")
                .contains("Brought back 617 of 617 records");
        assertThat(number("select count(*) from hive where hive_id = 12")).isZero();
        assertThat(again.status()).isZero();
    }

    @Test
    void aRestoreIsUndoneByDeletingAgainAfterAQuestion() throws Exception {
        json(0, LEAVE);
        JsonNode back = json(0, "restore", "last", "--yes", "--as", "una");
        String restore = back.get("run").asString();
        Tool.Result blocked = Tool.run(folder, "restore", restore, "--yes");
        Tool.Result asked = Tool.run(folder, "restore", restore, "--reassign", "inspection.keeper_id=7");
        JsonNode gone = json(0, "restore", restore, "--reassign", "inspection.keeper_id=7", "--yes");
        Tool.Result wrong = Tool.run(folder, "restore", restore, "--only", "keeper=3");
        Tool.Result useless = Tool.run(folder, "restore", "last", "--reassign", "inspection.keeper_id=7", "--yes");
        JsonNode again = json(0, "restore", "last", "--yes");

        assertThat(blocked.status()).isEqualTo(3);
        assertThat(asked.status()).isEqualTo(4);
        assertThat(asked.err()).contains("is a restore. To undo it, what it brought back is deleted again.");
        assertThat(asked.out()).contains("Marks 1 record as deleted: keeper 1");
        assertThat(gone.get("status").asString()).isEqualTo("done");
        assertThat(gone.get("counts").get("keeper").asInt()).isEqualTo(1);
        assertThat(wrong.status()).isEqualTo(2);
        assertThat(useless.status()).isEqualTo(2);
        assertThat(again.get("undone")).isEqualTo(gone.get("run"));
        assertThat(number("select count(*) from inspection where keeper_id = 3"))
                .isEqualTo(17);
    }

    @Test
    void theHistoryTellsWhoDidWhatAndNoticesWhoeverChangesIt() throws Exception {
        JsonNode left = json(0, LEAVE);
        JsonNode history = json(0, "history", "--table", "keeper");
        Tool.Result text = Tool.run(folder, "history", "--table", "keeper", "--key", "3");
        Tool.Result runs = Tool.run(folder, "history", "--actor", "odile");
        JsonNode intact = json(0, "history", "verify");
        Files.writeString(
                folder.resolve("head"), Tool.run(folder, "history", "head").out());
        Tool.Result kept = Tool.run(folder, "history", "verify", "--kept", "head");
        DemoDatabase.execute(folder, "update vacancy_trail_run set actor = 'tam' where place = 1");
        Tool.Result changed = Tool.run(folder, "history", "verify");

        assertThat(kept.out()).startsWith("Intact: 1 run, 19 entries, 0 of them erased;");
        assertThat(history).hasSize(1);
        JsonNode entry = history.get(0);
        assertThat(entry.get("run")).isEqualTo(left.get("run"));
        assertThat(entry.get("action").asString()).isEqualTo("marked");
        assertThat(entry.get("table").asString()).isEqualTo("keeper");
        assertThat(entry.get("key").asString()).isEqualTo("3");
        assertThat(entry.get("actor").asString()).isEqualTo("odile");
        assertThat(entry.get("reason").asString()).isEqualTo("moved away");
        assertThat(entry.get("before").get("keeper_id").asInt()).isEqualTo(3);
        assertThat(text.out())
                .contains("marked  keeper 3  by odile, because: moved away")
                .contains("Hesper Quill");
        assertThat(runs.out()).contains("keeper 3").contains("odile");
        assertThat(intact.get("intact").asBoolean()).isTrue();
        assertThat(kept.status()).isZero();
        assertThat(changed.status()).isEqualTo(1);
        assertThat(changed.out()).contains("was changed").contains("Not intact");
    }

    @Test
    void theTrailIsExportedInOpenForms() throws Exception {
        json(0, LEAVE);
        Tool.Result lines = Tool.run(folder, "history", "export");
        Tool.Result csv = Tool.run(folder, "history", "export", "--format", "csv");
        Tool.Result events = Tool.run(folder, "history", "export", "--format", "cloudevents", "--table", "keeper");

        assertThat(lines.out().lines()).hasSize(19);
        assertThat(csv.out()).startsWith("run,step,place,action,table,key,actor,reason,colleague,at,before,after");
        assertThat(csv.out().lines()).hasSize(20);
        assertThat(events.out().lines())
                .singleElement()
                .asString()
                .contains("\"specversion\":\"1.0\"")
                .contains("\"type\":\"dev.vacancy.record.marked\"")
                .contains("\"subject\":\"keeper/3\"");
    }

    /** A spreadsheet carries out what begins like a formula, and no attribute of an event holds control characters. */
    @Test
    void whatWouldDoHarmElsewhereIsExportedAsText() throws Exception {
        DemoDatabase.execute(
                folder,
                "create table label (text varchar(40) primary key)",
                "insert into label values (''), ('=1+1'), (concat('two', char(10), 'lines')), ('-12.5')");
        json(0, "delete", "label", "--where", "text <> ''", "--yes", "--as", "@odile", "--reason", "=cmd()");

        List<String> csv = Tool.run(folder, "history", "export", "--format", "csv")
                .out()
                .lines()
                .toList();
        Tool.Result events = Tool.run(folder, "history", "export", "--format", "cloudevents");

        assertThat(csv).anySatisfy(line -> assertThat(line).contains(",label,'=1+1,'@odile,'=cmd(),"));
        assertThat(csv).anySatisfy(line -> assertThat(line).contains(",label,-12.5,"));
        assertThat(events.out().lines())
                .hasSize(3)
                .anySatisfy(line -> assertThat(line).contains("\"subject\":\"label/two%0Alines\""));
    }

    @Test
    void conflictsAreAllToldAndNothingChanges() throws Exception {
        JsonNode gone = json(0, "delete", "hive", "--key", "12", "--yes");
        DemoDatabase.execute(
                folder,
                "insert into hive (hive_id, name, apiary_id, wood, set_up_on) values (12, 'New', 1, 'pine', '2026-01-01')");

        JsonNode conflict = json(3, "restore", gone.get("run").asString(), "--yes");
        Tool.Result text = Tool.run(folder, "restore", "last", "--yes");

        assertThat(conflict.get("status").asString()).isEqualTo("conflict");
        assertThat(conflict.get("run").isNull()).isTrue();
        assertThat(conflict.get("conflicts").get(0).get("reason").asString())
                .isEqualTo("there is a record with this key again");
        assertThat(text.status()).isEqualTo(3);
        assertThat(text.out()).contains("In the way:").contains("Delete or change hive 12 first.");
        assertThat(number("select count(*) from reading")).isEqualTo(19_500);
    }

    @Test
    void whoeverIsPastTheRetentionIsPurged() throws Exception {
        JsonNode blocked = json(3, "purge", "--yes");
        JsonNode purged = json(0, "purge", "keeper", "--reassign", "inspection.keeper_id=7", "--yes");
        JsonNode nothing = json(5, "purge", "--yes");
        Tool.Result never = Tool.run(folder, "purge", "apiary", "--yes");

        assertThat(blocked.get(0).get("skipped").get(0).asString()).isEqualTo("12");
        assertThat(purged.get(0).get("status").asString()).isEqualTo("done");
        assertThat(purged.get(0).get("counts").get("keeper").asInt()).isEqualTo(1);
        assertThat(number("select count(*) from keeper where keeper_id = 12")).isZero();
        assertThat(nothing.get(0).get("status").asString()).isEqualTo("nothing matched");
        assertThat(never.status()).isEqualTo(2);
        assertThat(never.err()).contains("Nothing says how long deleted records of apiary are kept.");
    }

    @Test
    void whatIsHeldStays() throws Exception {
        JsonNode held = json(0, "hold", "hive", "--where", "hive_id = 12", "--reason", "court case 7", "--as", "tam");
        JsonNode holds = json(0, "hold");
        JsonNode blocked = json(3, "delete", "hive", "--key", "12", "--yes");
        Tool.Result lifted =
                Tool.run(folder, "hold", "--lift", held.get("hold").asString().substring(0, 8));
        JsonNode gone = json(0, "delete", "hive", "--key", "12", "--yes");
        Tool.Result noReason = Tool.run(folder, "hold", "hive", "--where", "hive_id = 13");

        assertThat(holds).hasSize(1);
        assertThat(blocked.get("holds").get(0).get("reason").asString()).isEqualTo("court case 7");
        assertThat(lifted.status()).isZero();
        assertThat(gone.get("status").asString()).isEqualTo("done");
        assertThat(noReason.status()).isEqualTo(2);
        assertThat(noReason.err()).contains("A hold needs a reason.");
    }

    @Test
    void aTextIsMasked() throws Exception {
        json(0, "delete", "hive", "--key", "12", "--yes", "--reason", "Hesper asked for it");
        Tool.Result asked = Tool.run(folder, "mask", "hesper");
        JsonNode no = json(4, "mask", "hesper");
        JsonNode masked = json(0, "mask", "hesper", "--yes");
        JsonNode intact = json(0, "history", "verify");
        JsonNode nowhere = json(5, "mask", "hesper", "--yes");

        json(0, "mask", "bramble three", "--yes");
        JsonNode entries = json(0, "history", "--table", "hive", "--key", "12");

        assertThat(entries.get(0).get("action").asString()).isEqualTo("masked");
        assertThat(entries.get(1).get("before").get("name").asString()).isEqualTo("*************");
        assertThat(asked.status()).isEqualTo(4);
        assertThat(asked.out()).containsPattern("run [0-9a-f]{8} of hive +reason");
        assertThat(asked.err()).contains("Nothing was masked.");
        assertThat(no.get("status").asString()).isEqualTo("not approved");
        assertThat(no.get("mentions").get(0).get("where").get(0).asString()).isEqualTo("reason");
        assertThat(masked.get("places").asInt()).isEqualTo(no.get("places").asInt());
        assertThat(intact.get("intact").asBoolean()).isTrue();
        assertThat(nowhere.get("status").asString()).isEqualTo("nothing matched");
        assertThat(json(0, "history").toString())
                .contains("****** asked for it")
                .doesNotContain("Hesper");
    }

    @Test
    void aPersonIsForgotten() throws Exception {
        JsonNode no = json(4, "erase", "keeper", "--key", "3", "--reassign", "inspection.keeper_id=7");
        json(0, LEAVE);
        JsonNode erased = json(0, "erase", "keeper", "--key", "3", "--yes");
        JsonNode intact = json(0, "history", "verify");

        assertThat(no.get("status").asString()).isEqualTo("not approved");
        assertThat(erased.get("status").asString()).isEqualTo("done");
        assertThat(erased.get("entries").asInt())
                .as("with 19 inspections that were handed over")
                .isEqualTo(21);
        assertThat(number("select count(*) from keeper where keeper_id = 3")).isZero();
        assertThat(number("select count(*) from vacancy_trail_entry where content like '%Hesper%'"))
                .isZero();
        assertThat(intact.get("erased").asInt()).isEqualTo(21);
        assertThat(json(0, "history", "--table", "keeper", "--key", "3")
                        .get(0)
                        .get("before")
                        .isNull())
                .isTrue();
    }

    @Test
    void whereThereIsNothingToEraseThatIsSaid() throws Exception {
        Tool.Result result = Tool.run(folder, "erase", "hive", "--key", "999", "--yes");

        assertThat(result.status()).isEqualTo(5);
        assertThat(result.err()).contains("Nothing was erased.");
    }

    @Test
    void aRecordWhoseKeyHasTwoColumnsIsErasedWhetherItIsThereOrNot() throws Exception {
        String[] there = {"erase", "frame_check", "--key", "inspection_id=1,frame_no=1", "--yes"};
        String[] gone = {"erase", "frame_check", "--key", "frame_no=2,inspection_id=1", "--yes"};
        json(0, "delete", "frame_check", "--key", "inspection_id=1,frame_no=2", "--yes");

        Tool.Result asked = Tool.run(folder, "erase", "frame_check", "--key", "inspection_id=1,frame_no=1");
        assertThat(asked.out()).contains("No way back: what the audit trail holds of it is erased.");
        assertThat(json(0, there).get("entries").asInt()).isEqualTo(1);
        assertThat(json(0, gone).get("entries").asInt()).isEqualTo(1);

        assertThat(json(0, "history", "--table", "frame_check", "--key", "1,2")
                        .get(0)
                        .get("before")
                        .isNull())
                .isTrue();
        assertThat(
                        number(
                                "select count(*) from vacancy_trail_entry where table_name = 'FRAME_CHECK' and content is not null and action <> 'erased'"))
                .isZero();
    }

    @Test
    void whatTheDatabaseNeedsIsPrintedAndMade() throws Exception {
        JsonNode nothing = json(0, "ddl");
        DemoDatabase.execute(
                folder, "drop view active_keeper", "drop table vacancy_trail_entry", "drop table vacancy_trail_run");
        Tool.Result missing = Tool.run(folder, "map");
        Tool.Result shown = Tool.run(folder, "ddl");
        Tool.Result asked = Tool.run(folder, "ddl", "--apply");
        JsonNode made = json(0, "ddl", "--apply", "--yes");

        assertThat(nothing.get("status").asString()).isEqualTo("nothing missing");
        assertThat(missing.status()).isEqualTo(2);
        assertThat(missing.err()).contains("audit trail are missing").contains("vacancy ddl --apply");
        assertThat(shown.out()).contains("create table vacancy_trail_run").contains("create view active_keeper");
        assertThat(asked.status()).isEqualTo(4);
        assertThat(made.get("status").asString()).isEqualTo("done");
        assertThat(number("select count(*) from active_keeper")).isEqualTo(11);
        assertThat(json(0, LEAVE).get("status").asString()).isEqualTo("done");
    }

    @Test
    void whateverElseIsToBeKeptIsMadeWithIt() throws Exception {
        Tool.Result odd = Tool.run(folder, "ddl", "--for=bulk-runs,nonsense");
        Tool.Result shown = Tool.run(folder, "ddl", "--for=bulk-runs,approvals,schedule");
        JsonNode made = json(0, "ddl", "--for=approvals", "--apply", "--yes");
        JsonNode again = json(0, "ddl", "--for", "approvals");

        assertThat(odd.status()).isEqualTo(2);
        assertThat(odd.err()).contains("'nonsense' is none of bulk-runs, approvals, schedule");
        assertThat(shown.out())
                .contains(
                        "create table vacancy_bulk_run",
                        "create table vacancy_redeemed",
                        "create table vacancy_scheduled");
        assertThat(made.get("statements")).hasSize(2);
        assertThat(again.get("status").asString()).isEqualTo("nothing missing");
        assertThat(number("select count(*) from vacancy_redeemed")).isZero();
    }

    @Test
    void forGoodIsAskedForByName() throws Exception {
        Tool.Result asked =
                Tool.run(folder, "delete", "keeper", "--key", "3", "--reassign", "inspection.keeper_id=7", "--hard");
        JsonNode gone =
                json(0, "delete", "keeper", "--key", "3", "--reassign", "inspection.keeper_id=7", "--hard", "--yes");
        JsonNode already = json(5, "delete", "keeper", "--key", "12", "--reassign", "inspection.keeper_id=7", "--yes");

        assertThat(asked.err()).contains("for good?");
        assertThat(gone.get("marked")).isEmpty();
        assertThat(number("select count(*) from keeper where keeper_id = 3")).isZero();
        assertThat(already.get("status").asString()).isEqualTo("deleted already");
        assertThat(already.get("alreadyDeleted").get(0).asString()).isEqualTo("12");
    }

    @Test
    void aConfigurationThatIsWrongSaysWhere() throws Exception {
        Files.writeString(
                folder.resolve("vacancy.yaml"),
                Files.readString(folder.resolve("vacancy.yaml"))
                        .replace("retention: P15D", "retention: often, whoo: x")
                        .replace("apiary: soft", "apiary: mild")
                        .replace("trail: on", "trail: perhaps"));

        Tool.Result result = Tool.run(folder, "map");

        assertThat(result.status()).isEqualTo(2);
        assertThat(result.err())
                .contains("'retention' must be a period")
                .contains("'whoo'")
                .contains("'mild'")
                .contains("'perhaps'");
    }
}
