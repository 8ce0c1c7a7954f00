package dev.vacancy.declared;

import java.lang.annotation.Documented;
import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/**
 * Names the table whose records the methods of an interface delete.
 *
 * @see DeclaredOperations
 * @since 0.1
 */
@Documented
@Retention(RetentionPolicy.RUNTIME)
@Target(ElementType.TYPE)
public @interface DeletesFrom {
    /** {@return the table's name} */
    String value();
}
