package dev.vacancy.testing;

import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** A test that runs once on each database but SQLite, which has no schemas and takes a name in any case for the same. */
@Target(ElementType.METHOD)
@Retention(RetentionPolicy.RUNTIME)
@ParameterizedTest(name = "{0}")
@EnumSource(value = Engine.class, mode = EnumSource.Mode.EXCLUDE, names = "SQLITE")
public @interface OnEveryEngineButSqlite {}
