/** One class for each table of a catalog. */
module dev.vacancy.types {
    requires transitive dev.vacancy.core;
    requires transitive org.jspecify;
    requires com.palantir.javapoet;
    requires java.compiler;
    requires java.sql;

    exports dev.vacancy.types;
}
