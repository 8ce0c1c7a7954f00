package dev.vacancy.types;

import java.io.IOException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import javax.tools.Diagnostic;
import javax.tools.DiagnosticCollector;
import javax.tools.JavaCompiler;
import javax.tools.JavaFileObject;
import javax.tools.StandardJavaFileManager;
import javax.tools.ToolProvider;

/** Sources in a folder, compiled as an application would. */
final class Compiled {
    private final Path sources;
    private final Path classes;

    Compiled(Path folder) {
        this.sources = folder.resolve("sources");
        this.classes = folder.resolve("classes");
    }

    Path sources() {
        return sources;
    }

    /** Adds a class that uses the tables. */
    Compiled with(String name, String source) throws IOException {
        Files.createDirectories(sources);
        Files.writeString(sources.resolve(name + ".java"), source);
        return this;
    }

    /** What the compiler has against the sources, warnings too. */
    List<String> complaints() throws IOException {
        JavaCompiler compiler = ToolProvider.getSystemJavaCompiler();
        DiagnosticCollector<JavaFileObject> complaints = new DiagnosticCollector<>();
        try (StandardJavaFileManager files = compiler.getStandardFileManager(complaints, Locale.ROOT, null);
                Stream<Path> found = Files.walk(sources)) {
            Files.createDirectories(classes);
            List<Path> java =
                    found.filter(file -> file.toString().endsWith(".java")).toList();
            compiler.getTask(
                            null,
                            files,
                            complaints,
                            List.of("-Xlint:all,-requires-automatic,-path", "-proc:none", "-d", classes.toString()),
                            null,
                            files.getJavaFileObjectsFromPaths(java))
                    .call();
        }
        return complaints.getDiagnostics().stream()
                .filter(complaint -> complaint.getKind() != Diagnostic.Kind.NOTE)
                .map(complaint -> complaint.getMessage(Locale.ROOT))
                .toList();
    }

    Class<?> type(String name) throws IOException, ClassNotFoundException {
        URL[] home = {classes.toUri().toURL()};
        return new URLClassLoader(home, Compiled.class.getClassLoader()).loadClass(name);
    }

    /** What a static method of a class without parameters gives. */
    Object result(String type, String method) throws IOException, ReflectiveOperationException {
        return type(type).getMethod(method).invoke(null);
    }
}
