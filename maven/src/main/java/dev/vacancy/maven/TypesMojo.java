package dev.vacancy.maven;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import com.zaxxer.hikari.pool.HikariPool.PoolInitializationException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.types.TableTypes;
import dev.vacancy.yaml.RulesFile;
import java.io.File;
import java.io.IOException;
import java.nio.file.Path;
import java.sql.Driver;
import java.sql.SQLException;
import java.util.List;
import java.util.ServiceLoader;
import org.apache.maven.plugin.AbstractMojo;
import org.apache.maven.plugin.MojoExecutionException;
import org.apache.maven.plugins.annotations.LifecyclePhase;
import org.apache.maven.plugins.annotations.Mojo;
import org.apache.maven.plugins.annotations.Parameter;
import org.apache.maven.project.MavenProject;
import org.jspecify.annotations.Nullable;

/**
 * Writes one class for each table of a database, and adds them to the sources of the project. The database's driver is a dependency of the
 * plugin.
 *
 * @since 0.1
 */
@Mojo(name = "types", defaultPhase = LifecyclePhase.GENERATE_SOURCES, threadSafe = true)
public final class TypesMojo extends AbstractMojo {
    /** Where the database is, such as {@code jdbc:postgresql://localhost/larkmoor}. */
    @Parameter(property = "vacancy.url", required = true)
    private String url = "";

    /** Who connects. */
    @Parameter(property = "vacancy.user")
    private @Nullable String user;

    /** The password. */
    @Parameter(property = "vacancy.password")
    private @Nullable String password;

    /** The rules, for links that the database doesn't declare and schemas beside its own. */
    @Parameter(property = "vacancy.rules")
    private @Nullable File rules;

    /** The package of the classes, one of their own. */
    @Parameter(property = "vacancy.types.package", required = true)
    private String packageName = "";

    /** The root of the sources that are made. */
    @Parameter(property = "vacancy.types.out", defaultValue = "${project.build.directory}/generated-sources/vacancy")
    private File out = new File("");

    /** Whether to make none, where the build has no database and the sources are there. */
    @Parameter(property = "vacancy.types.skip", defaultValue = "false")
    private boolean skip;

    @Parameter(defaultValue = "${project}", readonly = true, required = true)
    private @Nullable MavenProject project;

    @Override
    public void execute() throws MojoExecutionException {
        if (!skip) {
            write();
        }
        if (project != null) {
            project.addCompileSourceRoot(out.getPath());
        }
    }

    private void write() throws MojoExecutionException {
        try (HikariDataSource source = new HikariDataSource(pool())) {
            RuleBook book = rules == null ? RuleBook.bySchema() : RulesFile.read(rules.toPath());
            TableTypes types = TableTypes.of(Vacancy.over(source, book).catalog(), packageName);
            List<Path> changed = types.write(out.toPath());
            getLog().info(types + ", " + changed.size() + " of them written or removed.");
        } catch (VacancyException | PoolInitializationException | IOException failure) {
            throw new MojoExecutionException("No classes of tables were made: " + failure.getMessage(), failure);
        }
    }

    private HikariConfig pool() throws MojoExecutionException {
        HikariConfig pool = new HikariConfig();
        pool.setDriverClassName(driver().getClass().getName());
        pool.setJdbcUrl(url);
        pool.setUsername(user);
        pool.setPassword(password);
        pool.setMaximumPoolSize(2);
        return pool;
    }

    /** Asked of the plugin's own dependencies: what another plugin of the same build registered isn't for this one. */
    private Driver driver() throws MojoExecutionException {
        try {
            for (Driver driver : ServiceLoader.load(Driver.class, TypesMojo.class.getClassLoader())) {
                if (driver.acceptsURL(url)) {
                    return driver;
                }
            }
        } catch (SQLException refused) {
            throw new MojoExecutionException("The address '" + url + "' can't be understood. Correct <url>.", refused);
        }
        throw new MojoExecutionException(
                "No driver takes '" + url + "'. Add the database's driver to the <dependencies> of the plugin.");
    }
}
