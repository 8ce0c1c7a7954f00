package dev.vacancy.test;

import dev.vacancy.testing.Engine;
import org.junit.jupiter.api.BeforeAll;

class RolledBackOnPostgresTest extends RolledBackDeletionsCases {
    @BeforeAll
    static void makeSchema() {
        start(Engine.POSTGRESQL);
    }
}
