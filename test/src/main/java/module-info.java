/** Deletions in the tests of applications. */
module dev.vacancy.test {
    requires transitive dev.vacancy.core;
    requires transitive org.assertj.core;
    requires transitive org.jspecify;
    requires transitive org.junit.jupiter.api;

    exports dev.vacancy.test;
}
