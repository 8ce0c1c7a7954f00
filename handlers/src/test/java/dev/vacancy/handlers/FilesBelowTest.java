package dev.vacancy.handlers;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.followup.FollowUpAction;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.FollowUp;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Files go, come back and are removed with the records that name them. */
class FilesBelowTest {
    private static final By ODILE = By.user("odile");

    @TempDir
    private Path outside;

    private Path folder() throws IOException {
        Path folder = Files.createDirectories(outside.resolve("photos"));
        Files.createDirectories(folder.resolve("a"));
        Files.writeString(folder.resolve("a/10.jpg"), "ten");
        return folder;
    }

    private static List<String> files(Path folder) throws IOException {
        try (Stream<Path> all = Files.walk(folder)) {
            return all.filter(Files::isRegularFile)
                    .map(file ->
                            folder.relativize(file).toString().replaceAll("\\.put-aside(/[0-9a-f-]{36}){2}", "aside"))
                    .sorted()
                    .toList();
        }
    }

    @OnEveryEngine
    void theyFollowTheirRecords(Engine engine) throws Exception {
        Path folder = folder();
        Files.writeString(folder.resolve("a/11.jpg"), "eleven");
        RuleBook rules = RuleBook.bySchema()
                .on("photo.hive_id", Clause.cascade())
                .trail(Trail.defaults())
                .followUp("photo", FollowUp.named("files").columns("path"));
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key)",
                        "create table photo (photo_id integer primary key, hive_id integer not null, path varchar(40),"
                                + " foreign key (hive_id) references hive (hive_id))",
                        "insert into hive values (1)",
                        "insert into photo values (10, 1, 'a/10.jpg'), (11, 1, 'a/11.jpg'), (12, 1, null)");
        Ddl.of(database.source(), rules).apply();
        Vacancy vacancy = Vacancy.over(database.source(), rules).withFollowUp("files", FilesBelow.of(folder));

        UUID run = vacancy.delete(Selection.of("hive").key(1), ODILE).runId();
        assertThat(files(folder)).containsExactly("a/10.jpg", "a/11.jpg");
        vacancy.followUps().work();
        assertThat(files(folder)).containsExactly("aside/a/10.jpg", "aside/a/11.jpg");

        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, ODILE)));
        vacancy.followUps().work();
        assertThat(files(folder)).containsExactly("a/10.jpg", "a/11.jpg");
        assertThat(folder.resolve("a/10.jpg")).hasContent("ten");

        UUID again = vacancy.delete(Selection.of("hive").key(1), ODILE).runId();
        vacancy.followUps().work();
        Files.writeString(folder.resolve("a/10.jpg"), "another");
        assertThat(vacancy.history().planRestore(again, ODILE).conflicts())
                .extracting(conflict -> conflict.key() + ": " + conflict.reason())
                .containsExactly("10: there is a file a/10.jpg again");
        Files.delete(folder.resolve("a/10.jpg"));

        vacancy.history().erase("photo", "10", ODILE);
        vacancy.followUps().work();
        assertThat(files(folder)).containsExactly("aside/a/11.jpg");
        assertThat(vacancy.history().planRestore(again, ODILE).conflicts())
                .extracting(conflict -> conflict.key() + ": " + conflict.reason())
                .noneMatch(reason -> reason.contains("11"));
        vacancy.history().prune(Instant.now(), ODILE);
        vacancy.followUps().work();
        assertThat(files(folder)).isEmpty();
    }

    @Test
    void doneTwiceIsDoneOnce() throws Exception {
        Path folder = folder();
        FilesBelow files = FilesBelow.of(folder);

        for (FollowUpAction action : List.of(
                FollowUpAction.DELETED, FollowUpAction.DELETED, FollowUpAction.RESTORED, FollowUpAction.RESTORED)) {
            files.handle(Messages.of(action, Map.of("path", "a/10.jpg")));
        }
        assertThat(files(folder)).containsExactly("a/10.jpg");
        assertThat(files.hinders("photo", Optional.of("10"), Map.of("path", "a/10.jpg")))
                .isEmpty();

        files.handle(Messages.of(FollowUpAction.MARKED, Map.of("path", "a/10.jpg")));
        files.handle(Messages.of(FollowUpAction.PURGED, Map.of("path", "a/10.jpg")));
        files.handle(Messages.of(FollowUpAction.PURGED, Map.of("path", "a/10.jpg")));
        assertThat(files(folder)).isEmpty();
        assertThat(folder.resolve(".put-aside")).isEmptyDirectory();
        assertThat(files.hinders("photo", Optional.of("10"), Map.of("path", "a/10.jpg")))
                .contains("its file a/10.jpg is gone");
        assertThatThrownBy(() -> files.handle(Messages.of(FollowUpAction.RESTORED, Map.of("path", "a/10.jpg"))))
                .hasMessage("its file a/10.jpg is gone");
    }

    /** A repeat comes as late as it likes, when the same record may be there again with a file of the same name. */
    @Test
    void aRepeatLeavesTheNextFileWhereItIs() throws Exception {
        Path folder = folder();
        FilesBelow files = FilesBelow.of(folder);

        files.handle(Messages.of(FollowUpAction.DELETED, Map.of("path", "a/10.jpg")));
        Files.writeString(folder.resolve("a/10.jpg"), "the next one");
        files.handle(Messages.of(FollowUpAction.DELETED, Map.of("path", "a/10.jpg")));

        assertThat(files(folder)).containsExactly("a/10.jpg", "aside/a/10.jpg");
        assertThat(folder.resolve("a/10.jpg")).hasContent("the next one");
    }

    @OnEveryEngine
    void oneRecordAfterTheOtherKeepsItsOwnFile(Engine engine) throws Exception {
        Path folder = folder();
        RuleBook rules = RuleBook.bySchema()
                .trail(Trail.defaults())
                .followUp("photo", FollowUp.named("files").columns("path"));
        Database database = engine.database()
                .run(
                        "create table photo (photo_id integer primary key, path varchar(40))",
                        "insert into photo values (10, 'a/10.jpg')");
        Ddl.of(database.source(), rules).apply();
        Vacancy vacancy = Vacancy.over(database.source(), rules).withFollowUp("files", FilesBelow.of(folder));

        UUID first = vacancy.delete(Selection.of("photo").key(10), ODILE).runId();
        vacancy.followUps().work();
        database.run("insert into photo values (10, 'a/10.jpg')");
        Files.writeString(folder.resolve("a/10.jpg"), "ten again");
        vacancy.delete(Selection.of("photo").key(10), ODILE);
        vacancy.followUps().work();

        assertThat(files(folder)).containsExactly("aside/a/10.jpg", "aside/a/10.jpg");
        assertThat(vacancy.history().planRestore(first, ODILE).conflicts())
                .singleElement()
                .satisfies(
                        conflict -> assertThat(conflict.reason()).startsWith("2 files a/10.jpg were put aside of it"));
        try (Stream<Path> aside = Files.walk(folder.resolve(".put-aside"))) {
            Path other = aside.filter(Files::isRegularFile)
                    .filter(file -> content(file).equals("ten again"))
                    .findFirst()
                    .orElseThrow();
            Files.delete(other);
        }
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(first, ODILE)));
        vacancy.followUps().work();
        assertThat(folder.resolve("a/10.jpg")).hasContent("ten");
    }

    private static String content(Path file) {
        try {
            return Files.readString(file);
        } catch (IOException unreadable) {
            throw new UncheckedIOException(unreadable);
        }
    }

    @Test
    void nothingOutsideOfTheFolderIsTouched() throws Exception {
        Path folder = folder();
        Path secret = Files.writeString(outside.resolve("secret.txt"), "secret");
        Files.createSymbolicLink(folder.resolve("link"), outside);
        Files.createSymbolicLink(folder.resolve("a/link.txt"), secret);
        FilesBelow files = FilesBelow.of(folder);

        for (String path : List.of(
                "../secret.txt",
                "a/../../secret.txt",
                secret.toString(),
                ".",
                "a/..",
                "link/secret.txt",
                "a/link.txt",
                ".put-aside/a/10.jpg",
                "a/../.Put-Aside/10.jpg")) {
            for (FollowUpAction action : FollowUpAction.values()) {
                assertThatThrownBy(() -> files.handle(Messages.of(action, Map.of("path", path))))
                        .as(action + " " + path)
                        .isInstanceOf(IOException.class);
            }
            assertThat(files.hinders("photo", Optional.of("10"), Map.of("path", path)))
                    .isPresent();
        }

        assertThat(secret).hasContent("secret");
        assertThat(folder.resolve("a/link.txt")).isSymbolicLink();
    }

    @Test
    void aRecordWithoutAPathHasNoFile() throws Exception {
        FilesBelow files = FilesBelow.of(folder());
        for (Map<String, Object> values : List.<Map<String, Object>>of(Map.of(), Map.of("path", " "))) {
            assertThatCode(() -> files.handle(Messages.of(FollowUpAction.RESTORED, values)))
                    .doesNotThrowAnyException();
        }
        Map<String, Object> two = Map.of("path", "a/10.jpg", "name", "ten");

        assertThatThrownBy(() -> files.handle(Messages.of(FollowUpAction.DELETED, two)))
                .hasMessageContaining("such as photos/{photo_id}.jpg");
        assertThatThrownBy(() -> files.at("{photo_id}.jpg").handle(Messages.of(FollowUpAction.DELETED, two)))
                .hasMessageContaining("photo_id, which the follow-up doesn't hand over");
        files.at("{path}").handle(Messages.of(FollowUpAction.DELETED, two));
        assertThat(files(outside.resolve("photos"))).containsExactly("aside/a/10.jpg");
        files.at("a/{number}.jpg").handle(Messages.of(FollowUpAction.RESTORED, Map.of("number", 10)));
        assertThat(files(outside.resolve("photos"))).containsExactly("a/10.jpg");
        assertThatThrownBy(() -> FilesBelow.of(outside.resolve("nowhere")))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("nowhere");
    }
}
