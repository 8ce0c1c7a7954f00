package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assumptions.assumeThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/** The verbs, as a script without a terminal calls them. */
class CommandLineTest extends OnTheDemo {
    private static final String COUNT_HIVES = "select count(*) from hive";

    @Test
    void mapShowsTablesLinksAndRules() throws Exception {
        Tool.Result map = Tool.process(folder, "map");

        assertThat(map.status()).isZero();
        assertThat(map.err()).isEmpty();
        assertThat(map.out())
                .startsWith("13 tables, 17 links.")
                .containsPattern("keeper +key keeper_id +active where left_at is null")
                .containsPattern(
                        "batch_hive\\.hive_id +forbids it +if honey_batch\\.sold_on is not null: a sold batch must stay traceable")
                .containsPattern("photo\\.hive_no +goes too +the rule says cascade; not declared in the database");
    }

    @Test
    void mapOfOneTableShowsWhatADeletionThereCanReach() throws Exception {
        Tool.Result map = Tool.run(folder, "map", "inspection");

        assertThat(map.status()).isZero();
        assertThat(map.out())
                .startsWith("4 tables, 3 links.")
                .contains("frame_check.inspection_id", "inspection.hive_id", "inspection.keeper_id")
                .doesNotContain("honey_batch", "placement");
        assertThat(Tool.run(folder, "map", "inspektion").err()).contains("Did you mean 'inspection'?");
    }

    @Test
    void aShellCompletesVerbsAndOptions() throws Exception {
        Tool.Result script = Tool.run(folder, "completion");
        Path file = Files.writeString(folder.resolve("completion.sh"), script.out());
        String asked =
                "source " + file + "; compopt() { :; }; COMP_WORDS=(vacancy res); COMP_CWORD=1; _complete_vacancy;"
                        + " echo \"${COMPREPLY[@]}\"; COMP_WORDS=(vacancy restore --ch); COMP_CWORD=2; _complete_vacancy;"
                        + " echo \"${COMPREPLY[@]}\"";

        assertThat(script.status()).isZero();
        assertThat(script.err()).isEmpty();
        assumeThat(Path.of("/bin/bash"))
                .as("bash completes by this script, and isn't here")
                .exists();
        Process shell = new ProcessBuilder("/bin/bash", "-c", asked)
                .redirectErrorStream(true)
                .start();
        assertThat(new String(shell.getInputStream().readAllBytes(), StandardCharsets.UTF_8).lines())
                .containsExactly("restore", "--chunk");
    }

    @Test
    void previewShowsThePlanAndChangesNothing() throws Exception {
        Tool.Result preview = Tool.run(folder, "preview", "hive", "--key", "12");

        assertThat(preview.status()).isZero();
        assertThat(preview.err()).isEmpty();
        assertThat(preview.out())
                .contains("name       Bramble Three", "hive 12 'Bramble Three'", "├─ treatment", "Deletes 617 records")
                .contains("Changes 1 record: queen.mother_id is set to null");
        assertThat(DemoDatabase.number(folder, COUNT_HIVES)).isEqualTo(40);
    }

    @Test
    void deleteWithYesDoesWhatItShows() throws Exception {
        Tool.Result delete = Tool.process(
                folder,
                "delete",
                "hive",
                "--key",
                "12",
                "--key",
                "13",
                "--expect",
                "2",
                "--yes",
                "--as",
                "odile",
                "--reason",
                "colony lost");

        assertThat(delete.status()).isZero();
        assertThat(delete.out())
                .contains("by odile, because: colony lost")
                .containsPattern("Deletes (1,\\d{3}) records: hive 2,[^\n]*\n(.*\n)*Deleted \\1 records: hive 2,");
        assertThat(DemoDatabase.number(folder, COUNT_HIVES)).isEqualTo(38);
        assertThat(DemoDatabase.number(folder, "select count(*) from reading where hive_id in (12, 13)"))
                .isZero();
    }

    @Test
    void deleteWithoutTerminalAndWithoutYesIsNotApproved() throws Exception {
        Tool.Result delete = Tool.process(folder, "delete", "hive", "--key", "12");

        assertThat(delete.status()).isEqualTo(4);
        assertThat(delete.err()).contains("There is no terminal to ask", "Nothing was deleted.");
        assertThat(DemoDatabase.number(folder, COUNT_HIVES)).isEqualTo(40);
    }

    @Test
    void aBlockedDeletionNamesWhatForbidsItEvenWithYes() throws Exception {
        Tool.Result delete = Tool.process(folder, "delete", "hive", "--key", "4", "--yes");

        assertThat(delete.status()).isEqualTo(3);
        assertThat(delete.out())
                .contains(
                        "hive 4 → batch_hive (",
                        "3 records of batch_hive forbid it by batch_hive.hive_id: a sold batch must stay traceable");
        assertThat(DemoDatabase.number(folder, COUNT_HIVES)).isEqualTo(40);
    }

    @Test
    void aBlockTwoLevelsDownShowsTheWay() throws Exception {
        Tool.Result preview = Tool.run(folder, "preview", "apiary", "--key", "1");

        assertThat(preview.status()).isEqualTo(3);
        assertThat(preview.out())
                .contains(
                        "apiary 1 → hive 4 → batch_hive (4, 4)", "apiary 1 → hive 6 → batch_hive (4, 6)", "and 4 more");
    }

    @Test
    void keysThatMatchNothingAreToldAndTheRestIsDone() throws Exception {
        Tool.Result some = Tool.run(folder, "delete", "photo", "--key", "1", "--key", "999", "--yes");
        Tool.Result none = Tool.run(folder, "delete", "photo", "--key", "1", "--yes");

        assertThat(some.status()).isZero();
        assertThat(some.out()).contains("Not found in photo: 999", "Deleted 1 record: photo 1");
        assertThat(none.status()).isEqualTo(5);
        assertThat(none.out().strip()).isEqualTo("Not found in photo: 1");
    }

    @Test
    void aKeepersInspectionsAreHandedOverToWhomTheRequestNames() throws Exception {
        long of3 = DemoDatabase.number(folder, "select count(*) from inspection where keeper_id = 3");
        long of7 = DemoDatabase.number(folder, "select count(*) from inspection where keeper_id = 7");

        Tool.Result unnamed = Tool.run(folder, "delete", "keeper", "--key", "3", "--yes");
        Tool.Result gone =
                Tool.run(folder, "delete", "keeper", "--key", "3", "--yes", "--reassign", "inspection.keeper_id=12");
        Tool.Result named =
                Tool.run(folder, "delete", "keeper", "--key", "3", "--yes", "--reassign", "inspection.keeper_id=7");

        assertThat(unnamed.status()).isEqualTo(3);
        assertThat(unnamed.out()).contains("nobody is named to take them over");
        assertThat(gone.status()).isEqualTo(2);
        assertThat(gone.err())
                .isEqualTo("keeper 12, who should take over inspection.keeper_id, isn't active, which takes"
                        + " 'left_at is null'.\nName another one.\n");
        assertThat(named.status()).isZero();
        assertThat(named.out()).contains("inspection.keeper_id is set to 7");
        assertThat(DemoDatabase.number(folder, "select count(*) from inspection where keeper_id = 7"))
                .isEqualTo(of3 + of7);
    }

    @Test
    void aTreatmentWhoseWithholdingPeriodRunsKeepsItsHive() throws Exception {
        Tool.Result preview = Tool.run(folder, "preview", "hive", "--key", "33");

        assertThat(preview.status()).isEqualTo(3);
        assertThat(preview.out())
                .contains("1 record of treatment forbids it by treatment.hive_id: its withholding period runs");
    }

    @Test
    void compositeKeysAreGivenByColumn() throws Exception {
        Tool.Result preview = Tool.run(folder, "preview", "apiary_keeper", "--key", "keeper_id=6,apiary_id=1");

        assertThat(preview.status()).isZero();
        assertThat(preview.out()).contains("apiary_keeper (1, 6) 'lead'");
    }

    @Test
    void recordsArePickedByWhatTheyAndTheirParentsHold() throws Exception {
        String before = " from inspection where hive_id = 12 and inspected_on < date '2026-08-01'";
        long matching = DemoDatabase.number(folder, "select count(*)" + before);
        long all = DemoDatabase.number(folder, "select count(*) from inspection");

        Tool.Result delete = Tool.run(
                folder,
                "delete",
                "inspection",
                "--where",
                "hive.name = 'Bramble Three' and inspected_on < '2026-08-01'",
                "--expect",
                String.valueOf(matching),
                "--yes");

        assertThat(delete.status()).isZero();
        assertThat(delete.out())
                .contains(matching + " records of inspection where hive.name = 'Bramble Three' and inspected_on <"
                        + " '2026-08-01'\n")
                .contains("Deleted ", "inspection " + matching + ",");
        assertThat(DemoDatabase.number(folder, "select count(*)" + before)).isZero();
        assertThat(DemoDatabase.number(folder, "select count(*) from inspection"))
                .isEqualTo(all - matching);
    }

    @Test
    void aCriteriaThatMatchesNothingIsTold() throws Exception {
        Tool.Result delete = Tool.run(folder, "delete", "hive", "--where", "hive_id > 1000", "--yes");

        assertThat(delete.status()).isEqualTo(5);
        assertThat(delete.out().strip()).isEqualTo("No record of hive where hive_id > 1000");
    }

    @Test
    void aConfigurationElsewhereIsNamed() throws Exception {
        Path elsewhere = Files.createDirectory(folder.resolve("elsewhere"));

        Tool.Result preview = Tool.process(elsewhere, "preview", "hive", "--key", "12", "--config", "../vacancy.yaml");

        assertThat(preview.status()).isZero();
    }

    static Stream<Arguments> mistakes() {
        return Stream.of(
                Arguments.of("preview hvie --key 12", "There is no table 'hvie'.\nDid you mean 'hive'?\n"),
                Arguments.of(
                        "preview hive --key abc",
                        "hive.hive_id is INTEGER, which 'abc' is not.\n"
                                + "Give a whole number from -2147483648 to 2147483647, such as 12.\n"),
                Arguments.of(
                        "preview apiary_keeper --key 3",
                        "The key of apiary_keeper has 2 columns, but '3' doesn't say which it is for.\n"
                                + "Give each column once: --key apiary_id=…,keeper_id=… (a comma in a value is written"
                                + " \\,).\n"),
                Arguments.of(
                        "preview apiary_keeper --key apiary_id=3,keper_id=4",
                        "Table apiary_keeper has no column 'keper_id'.\nDid you mean 'keeper_id'?\n"),
                Arguments.of(
                        "delete hive --key 12 --key 99 --expect 2 --yes",
                        "The selection was expected to match 2 of hive, but matches 1 (not found: 99).\n"
                                + "Check what is selected, or expect 1.\n"),
                Arguments.of(
                        "preview hive",
                        "Nothing says which records of hive; that never means all of them.\nName them with --key KEY or"
                                + " --keys-from FILE, or say what they have in common with --where TEXT.\n"),
                Arguments.of(
                        "preview hive --key 1 --where hive_id=2",
                        "--key=KEY, --where=TEXT are mutually exclusive (specify only one)\n"
                                + "'vacancy preview --help' tells how to call it.\n"),
                Arguments.of(
                        "delete hive --where hive_id=1 --where hive_id=2 --yes",
                        "--where was given 2 times.\nJoin the conditions by AND or OR in one.\n"),
                Arguments.of(
                        "delete hive --where hive_id>0|or|hive_id<=0 --yes",
                        "This criteria picks every record of hive.\n"
                                + "Say what the records have in common that others have not.\n"),
                Arguments.of(
                        "delete hive --where colour='red' --yes",
                        "Table hive has no column 'colour'.\nThere are: hive_id, name, apiary_id, queen_id, wood,"
                                + " set_up_on.\n"),
                Arguments.of(
                        "delete hive --where | --yes",
                        "The criteria is empty; an empty criteria never means all records.\nAllowed are: column = value,"
                                + " <>, <, <=, >, >=, IN (…), BETWEEN … AND …, LIKE '…', IS NULL, AND, OR, NOT and"
                                + " parentheses; values are numbers, 'text', '2026-05-31', true, false, today, now and"
                                + " today - 90 days.\n"),
                Arguments.of(
                        "preview hive --key 1 --output xml",
                        "Invalid value for option '--output': expected one of [TEXT, JSON] (case-insensitive) but was"
                                + " 'xml'\n'vacancy preview --help' tells how to call it.\n"),
                Arguments.of(
                        "preview hive --key 12 --config nowhere.yaml",
                        "There is no configuration 'nowhere.yaml'.\nGo to the folder that has one, name it with"
                                + " --config FILE, or make one with the verb demo.\n"),
                Arguments.of("", "Say what to do: give a verb.\n'vacancy --help' tells how to call it.\n"));
    }

    @ParameterizedTest
    @MethodSource("mistakes")
    void aMistakeIsAnsweredInTwoLines(String arguments, String answer) throws Exception {
        String[] words = Stream.of(arguments.split(" ", -1))
                .filter(word -> !arguments.isEmpty())
                .map(word -> word.replace('|', ' '))
                .toArray(String[]::new);

        Tool.Result result = Tool.run(folder, words);

        assertThat(result.status()).isEqualTo(2);
        assertThat(result.out()).isEmpty();
        assertThat(result.err()).isEqualTo(answer);
        assertThat(DemoDatabase.number(folder, COUNT_HIVES)).isEqualTo(40);
    }

    @Test
    void verboseAddsTheCause() throws Exception {
        Tool.Result result = Tool.process(folder, "preview", "hive", "--key", "abc", "--verbose");

        assertThat(result.err()).contains("\tat dev.vacancy");
    }

    @Test
    void helpIsThereForEveryVerb() throws Exception {
        for (String verb : new String[] {"demo", "map", "preview", "delete", "runs"}) {
            Tool.Result help = Tool.run(folder, verb, "--help");
            assertThat(help.status()).isZero();
            assertThat(help.out()).startsWith("Usage: vacancy " + verb);
        }
    }

    @Test
    void whoeverSaysHowManyThereAreNeedntTypeThatItIsAllOfATable() throws Exception {
        long photos = DemoDatabase.number(folder, "select count(*) from photo");
        String[] all = {"delete", "photo", "--where", "photo_id > 0 or photo_id < 0", "--yes"};

        Tool.Result mute = Tool.run(folder, all);
        Tool.Result wrong = Tool.run(folder, with(all, "--expect", String.valueOf(photos - 1)));
        long before = DemoDatabase.number(folder, "select count(*) from photo");
        Tool.Result right = Tool.run(folder, with(all, "--expect", String.valueOf(photos)));

        assertThat(mute.status()).isEqualTo(4);
        assertThat(mute.err()).contains("this one has to be typed", "--yes --expect " + photos);
        assertThat(wrong.status()).isNotZero();
        assertThat(before).isEqualTo(photos);
        assertThat(right.status()).isZero();
        assertThat(DemoDatabase.number(folder, "select count(*) from photo")).isZero();
    }

    private static String[] with(String[] arguments, String... more) {
        return Stream.concat(Arrays.stream(arguments), Arrays.stream(more)).toArray(String[]::new);
    }

    /** A letter that is lost on its way would select other records. */
    @Test
    void inALocaleWithoutTheLetterAnArgumentIsRefusedOrReadAsItIs() throws Exception {
        String[] arguments = {"preview", "hive", "--where", "name <> 'Bramble é' and hive_id < 3", "--output", "json"};

        Tool.Result garbled = Tool.process(folder, Map.of("LC_ALL", "C"), arguments);
        Tool.Result read = Tool.process(folder, Map.of("LC_ALL", "C.UTF-8"), arguments);

        assertThat(garbled.status()).isEqualTo(2);
        assertThat(garbled.err()).contains("has lost a letter on its way").contains("LC_ALL=C.UTF-8");
        assertThat(read.status()).as(read.err()).isZero();
        assertThat(read.out()).contains("name <> 'Bramble é'");
    }

    @Test
    void aFileOfKeysIsReadWithItsMarkAndRefusedInAnotherEncoding() throws Exception {
        byte[] marked = "\ufeffphoto_id\r\n1\r\n".getBytes(StandardCharsets.UTF_8);
        Files.write(folder.resolve("marked.csv"), marked);
        Files.writeString(folder.resolve("wide.csv"), "photo_id\n1\n", StandardCharsets.UTF_16);
        Files.write(folder.resolve("latin.csv"), "photo_id,note\n1,caf\u00e9\n".getBytes(StandardCharsets.ISO_8859_1));
        Files.writeString(folder.resolve("twice.csv"), "photo_id,PHOTO_ID\n1,2\n");
        Files.writeString(folder.resolve("same.csv"), "photo_id,photo_id\n1,2\n");

        assertThat(Tool.run(folder, "preview", "photo", "--keys-from", "marked.csv")
                        .status())
                .isZero();
        assertThat(refusal("wide.csv")).contains("'wide.csv' isn't text in UTF-8, but in UTF-16.");
        assertThat(refusal("latin.csv")).contains("'latin.csv' isn't text in UTF-8; perhaps it is in Latin-1");
        assertThat(refusal("twice.csv")).contains("The header of 'twice.csv' names photo_id 2 times.");
        assertThat(refusal("same.csv")).contains("photo_id").contains("duplicate");
    }

    private String refusal(String file) {
        Tool.Result result = Tool.run(folder, "delete", "photo", "--keys-from", file, "--yes");
        assertThat(result.status()).isEqualTo(2);
        return result.err();
    }
}
