package dev.vacancy.maven;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.lang.reflect.Field;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.util.UUID;
import org.apache.maven.plugin.MojoExecutionException;
import org.apache.maven.project.MavenProject;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class TypesMojoTest {
    private final MavenProject project = new MavenProject();

    @TempDir
    private Path folder;

    @Test
    void classesAreMadeAndAddedToTheSourcesOfTheProject() throws Exception {
        String url = database();
        goal(url, "larkmoor.tables").execute();

        assertThat(project.getCompileSourceRoots()).containsExactly(out().toString());
        assertThat(out().resolve("larkmoor/tables/HiveTable.java"))
                .content()
                .contains("ColumnCriteria<Integer> QUEEN_NO");
        assertThat(out().resolve("larkmoor/tables/QueenTable.java")).exists();
    }

    @Test
    void linksOfTheRulesAreAmongThem() throws Exception {
        Path rules = folder.resolve("vacancy.yaml");
        Files.writeString(rules, "links:\n  hive.queen_no: queen\nrules:\n  hive.queen_no:\n    - cascade\n");
        TypesMojo goal = goal(database(), "larkmoor.tables");
        set(goal, "rules", rules.toFile());

        goal.execute();

        assertThat(out().resolve("larkmoor/tables/HiveTable.java")).content().contains("refers to {@code queen}");
    }

    @Test
    void whereTheBuildHasNoDatabaseTheSourcesThatAreThereCount() throws Exception {
        TypesMojo goal = goal("jdbc:nowhere:", "larkmoor.tables");
        set(goal, "skip", true);

        goal.execute();

        assertThat(project.getCompileSourceRoots()).containsExactly(out().toString());
        assertThat(out()).doesNotExist();
    }

    @Test
    void whatIsMissingIsSaid() throws Exception {
        String url = database();

        assertThatThrownBy(() -> goal("jdbc:nowhere:", "tables").execute())
                .isInstanceOf(MojoExecutionException.class)
                .hasMessageContaining("No driver takes 'jdbc:nowhere:'");
        assertThatThrownBy(() -> goal(url, "my.class").execute())
                .isInstanceOf(MojoExecutionException.class)
                .hasMessageContaining("'my.class' can't be the name of a package");
        assertThatThrownBy(() ->
                        goal("jdbc:h2:file:/not/there;IFEXISTS=TRUE", "tables").execute())
                .isInstanceOf(MojoExecutionException.class)
                .hasMessageContaining("No classes of tables were made");
        assertThat(out()).doesNotExist();
    }

    private Path out() {
        return folder.resolve("generated");
    }

    private TypesMojo goal(String url, String packageName) throws ReflectiveOperationException {
        TypesMojo goal = new TypesMojo();
        set(goal, "url", url);
        set(goal, "packageName", packageName);
        set(goal, "out", out().toFile());
        set(goal, "project", project);
        return goal;
    }

    /** As Maven does it. */
    private static void set(TypesMojo goal, String parameter, Object value) throws ReflectiveOperationException {
        Field field = TypesMojo.class.getDeclaredField(parameter);
        field.setAccessible(true);
        field.set(goal, value);
    }

    private static String database() throws Exception {
        String url = "jdbc:h2:mem:" + UUID.randomUUID() + ";DB_CLOSE_DELAY=-1";
        try (Connection connection = DriverManager.getConnection(url);
                Statement statement = connection.createStatement()) {
            statement.execute("create table queen (queen_id integer primary key)");
            statement.execute("create table hive (hive_id integer primary key, queen_no integer)");
        }
        return url;
    }
}
