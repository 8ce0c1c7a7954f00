package dev.vacancy.web;

import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.File;
import java.lang.reflect.Constructor;
import java.lang.reflect.InvocationTargetException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Comparator;
import org.junit.jupiter.api.Test;

/** A framework has pinned annotations that are older than the JSON binder. */
class OlderAnnotationsTest {
    /** A class path on which one annotation is missing. */
    private static final class Pinned extends URLClassLoader {
        private static final String NEW_IN_2_21 = "com.fasterxml.jackson.annotation.JsonSerializeAs";

        Pinned() {
            super(classPath(), ClassLoader.getPlatformClassLoader());
        }

        private static URL[] classPath() {
            return Arrays.stream(System.getProperty("java.class.path").split(File.pathSeparator, -1))
                    .map(entry -> url(Path.of(entry)))
                    .toArray(URL[]::new);
        }

        private static URL url(Path entry) {
            try {
                return entry.toUri().toURL();
            } catch (java.net.MalformedURLException impossible) {
                throw new IllegalStateException(impossible);
            }
        }

        @Override
        protected Class<?> findClass(String name) throws ClassNotFoundException {
            if (name.equals(NEW_IN_2_21)) {
                throw new ClassNotFoundException(name);
            }
            return super.findClass(name);
        }
    }

    private static Object servlet(ClassLoader loader) throws Throwable {
        Class<?> servlet = loader.loadClass("dev.vacancy.web.DeletionServlet");
        Constructor<?> making = Arrays.stream(servlet.getConstructors())
                .max(Comparator.comparingInt(Constructor::getParameterCount))
                .orElseThrow();
        try {
            return making.newInstance(new Object[making.getParameterCount()]);
        } catch (InvocationTargetException wrapped) {
            throw wrapped.getCause();
        }
    }

    @Test
    void areNamedWhenTheServletIsMadeAndNotAtTheFirstPlan() throws Exception {
        try (Pinned pinned = new Pinned()) {
            assertThatThrownBy(() -> servlet(pinned))
                    .isInstanceOf(IllegalStateException.class)
                    .hasMessageContaining("jackson-annotations")
                    .hasMessageContaining("JsonSerializeAs")
                    .hasMessageContaining("Let it be the version that jackson-databind asks for.");
        }
    }
}
