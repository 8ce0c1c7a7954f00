package dev.vacancy.testing;

import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** A test that runs once on each database but MariaDB, whose tables can't set a foreign key to its
 * default, nor be told to empty one that may not be null. */
@Target(ElementType.METHOD)
@Retention(RetentionPolicy.RUNTIME)
@ParameterizedTest(name = "{0}")
@EnumSource(value = Engine.class, mode = EnumSource.Mode.EXCLUDE, names = "MARIADB")
public @interface OnEveryEngineButMariaDb {}
