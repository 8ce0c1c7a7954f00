package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** What programs read: one JSON value each, as the published schema describes it. */
class JsonOutputTest extends OnTheDemo {
    @Test
    void mapIsAsTheSchemaSays() throws Exception {
        JsonNode map = json(0, "map");

        assertThat(map.get("tables")).hasSize(13);
        assertThat(map.get("links")).hasSize(17);
    }

    @Test
    void previewGivesThePlan() throws Exception {
        JsonNode preview = json(0, "preview", "hive", "--key", "12", "--key", "999");

        assertThat(preview.get("table").asString()).isEqualTo("hive");
        assertThat(preview.get("counts").get("hive").asInt()).isEqualTo(1);
        assertThat(preview.get("counts").get("reading").asInt()).isEqualTo(500);
        assertThat(preview.get("blockers")).isEmpty();
        assertThat(preview.get("notFound").get(0).asString()).isEqualTo("999");
        assertThat(preview.get("records").get(0).get("name").asString()).isEqualTo("Bramble Three");
        assertThat(preview.get("where").isNull()).isTrue();
        assertThat(preview.has("run")).isFalse();
    }

    @Test
    void aCriteriaIsToldAsItWasUnderstood() throws Exception {
        JsonNode preview = json(0, "preview", "hive", "--where", "NAME like 'Bramble%'  AND not hive_id=12");

        assertThat(preview.get("where").asString()).isEqualTo("NAME like 'Bramble%' and not (hive_id = 12)");
        assertThat(preview.get("counts").get("hive").asInt()).isEqualTo(6);
    }

    @Test
    void bulkRunsAreListedAsTheSchemaSays() throws Exception {
        JsonNode run = json(0, "delete", "reading", "--where", "hive_id = 3", "--chunk", "200", "--yes");
        JsonNode runs = json(0, "runs");

        assertThat(run.get("state").asString()).isEqualTo("done");
        assertThat(run.get("done").asInt()).isEqualTo(500);
        assertThat(runs).hasSize(1);
        assertThat(runs.get(0)).isEqualTo(run);
    }

    @Test
    void whatIsScheduledAndWhatWouldBeEmptiedIsAsTheSchemaSays() throws Exception {
        JsonNode scheduled =
                json(0, "delete", "reading", "--where", "hive_id = 3", "--every", "P1D", "--name", "third", "--yes");
        JsonNode runs = json(0, "runs");
        JsonNode emptying = json(4, "empty", "photo");

        assertThat(scheduled.get("state").asString()).isEqualTo("scheduled");
        assertThat(runs).hasSize(1);
        assertThat(runs.get(0)).isEqualTo(scheduled);
        assertThat(emptying.get("records").asInt()).isEqualTo(120);
        assertThat(emptying.get("run").isNull()).isTrue();
    }

    @Test
    void aBlockedPreviewNamesItsBlockers() throws Exception {
        JsonNode blocker =
                json(3, "preview", "apiary", "--key", "1").get("blockers").get(0);

        assertThat(blocker.get("table").asString()).isEqualTo("batch_hive");
        assertThat(blocker.get("children").get(0).get("way").get(0).asString()).isEqualTo("apiary 1");
    }

    @Test
    void skippedRecordsCarryTheirBlockers() throws Exception {
        JsonNode done = json(6, "delete", "hive", "--key", "4", "--key", "13", "--skip-blocked", "--yes");
        JsonNode none = json(3, "delete", "hive", "--key", "4", "--skip-blocked", "--yes");

        assertThat(done.get("counts").get("hive").asInt()).isEqualTo(1);
        assertThat(done.get("skipped").get(0).get("key").asString()).isEqualTo("4");
        assertThat(done.get("skipped").get(0).get("blockers").get(0).get("link").asString())
                .isEqualTo("batch_hive.hive_id");
        assertThat(none.get("status").asString()).isEqualTo("blocked");
    }

    @Test
    void checkGivesItsFindings() throws Exception {
        JsonNode findings = json(1, "check").get("findings");

        assertThat(findings).hasSize(2);
        assertThat(findings.get(0).get("kind").asString()).isEqualTo("no-index");
        assertThat(findings.get(0).get("where").asString()).isEqualTo("photo.hive_no");
    }

    @Test
    void deleteGivesTheOutcome() throws Exception {
        JsonNode preview = json(0, "preview", "hive", "--key", "12");
        JsonNode done = json(0, "delete", "hive", "--key", "12", "--yes", "--as", "odile");

        assertThat(done.get("status").asString()).isEqualTo("done");
        assertThat(done.get("fingerprint")).isEqualTo(preview.get("fingerprint"));
        assertThat(done.get("counts")).isEqualTo(preview.get("counts"));
        assertThat(done.get("run").asString()).hasSize(36);
        assertThat(done.get("deleted").get(0).get("set_up_on").asString()).isEqualTo("2024-03-30");
        assertThat(done.get("by").get("actor").asString()).isEqualTo("odile");
    }

    @Test
    void adeletionThatWasNotDoneSaysSo() throws Exception {
        for (JsonNode notDone : List.of(
                json(4, "delete", "hive", "--key", "12"),
                json(3, "delete", "hive", "--key", "4", "--yes"),
                json(5, "delete", "hive", "--key", "999", "--yes"))) {
            assertThat(notDone.get("run").isNull()).isTrue();
            assertThat(notDone.get("deleted")).isEmpty();
            assertThat(notDone.get("status").asString()).isNotEqualTo("done");
        }
    }

    @Test
    void whatGoesWrongIsToldToProgramsToo() throws Exception {
        JsonNode none = json(2, "runs", "show", "last");
        JsonNode unknown = json(2, "preview", "hvie", "--key", "1");
        JsonNode wrong = json(2, "preview", "hive", "--keey", "1");
        JsonNode value = json(2, "delete", "hive", "--key", "abc", "--yes");

        assertThat(none.get("problem").asString()).contains("no bulk runs");
        assertThat(unknown.get("failed").asString()).isEqualTo("unknown-table");
        assertThat(unknown.get("problem").asString()).contains("hvie");
        assertThat(wrong.get("failed").asString()).isEqualTo("usage");
        assertThat(value.get("failed").asString()).isEqualTo("value-type");
        assertThat(value.get("remedy").asString()).isNotBlank();
    }
}
