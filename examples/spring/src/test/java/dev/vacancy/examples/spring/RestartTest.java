package dev.vacancy.examples.spring;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.net.URL;
import java.net.URLClassLoader;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** Developer tools start an application again in the same process: its own classes are loaded anew, and those of libraries are not. */
class RestartTest {
    private final ClassLoader usual = Thread.currentThread().getContextClassLoader();

    @AfterEach
    void goBack() {
        Thread.currentThread().setContextClassLoader(usual);
    }

    @Test
    void afterARestartWhatWasDeletedBeforeItComesBack() throws Exception {
        Database database = Engine.H2.database();
        try (LoadedAnew classes = new LoadedAnew();
                RunningMarinas marinas = RunningMarinas.on(database, classes.application())) {
            assertThat(marinas.visitor("una").change("DELETE", "/craft/1").body())
                    .isEqualTo("[1]");
        }
        for (int restart = 1; restart <= 2; restart++) {
            try (LoadedAnew classes = new LoadedAnew();
                    RunningMarinas marinas = RunningMarinas.on(
                            database, classes.application(), "--spring.jpa.hibernate.ddl-auto=none")) {
                RunningMarinas.Visitor una = marinas.visitor("una");

                assertThat(una.change("POST", "/craft/1/return").body())
                        .contains("\"sailboat\":1", "\"craft_equipment\":2");
                assertThat(una.change("POST", "/craft/1/scrapping").body()).isEqualTo("[1]");
            }
        }
        assertThat(database.rows("select id from craft order by 1")).containsExactly("2", "3", "4");
    }

    /** Looks for the application's own classes itself before it asks for those of libraries. */
    private final class LoadedAnew extends URLClassLoader {
        LoadedAnew() {
            super(
                    new URL[] {
                        MarinasApplication.class
                                .getProtectionDomain()
                                .getCodeSource()
                                .getLocation()
                    },
                    usual);
            Thread.currentThread().setContextClassLoader(this);
        }

        Class<?> application() throws ClassNotFoundException {
            Class<?> application = loadClass(MarinasApplication.class.getName());
            assertThat(application).isNotSameAs(MarinasApplication.class);
            return application;
        }

        @Override
        protected Class<?> loadClass(String name, boolean resolved) throws ClassNotFoundException {
            synchronized (getClassLoadingLock(name)) {
                Class<?> loaded = findLoadedClass(name);
                if (loaded != null) {
                    return loaded;
                }
                try {
                    return findClass(name);
                } catch (ClassNotFoundException library) {
                    return super.loadClass(name, resolved);
                }
            }
        }
    }
}
