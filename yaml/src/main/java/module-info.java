/** Rules from vacancy.yaml. */
module dev.vacancy.yaml {
    requires transitive dev.vacancy.core;
    requires transitive org.jspecify;
    requires tools.jackson.core;
    requires tools.jackson.dataformat.yaml;

    exports dev.vacancy.yaml;
    exports dev.vacancy.internal.yaml to
            dev.vacancy.cli;
}
