package dev.vacancy.declared;

import java.lang.annotation.Documented;
import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/**
 * Says which records a method picks. A method without it picks one by its key.
 *
 * @see DeclaredOperations
 * @since 0.1
 */
@Documented
@Retention(RetentionPolicy.RUNTIME)
@Target(ElementType.METHOD)
public @interface Picks {
    /** {@return a criteria as {@link dev.vacancy.Criteria#parse} reads it, in which {@code :name} stands for the parameter of that name} */
    String value();

    /** {@return of how many records it may be at most; more are refused} */
    long atMost() default Long.MAX_VALUE;

    /** {@return whether the row goes where the rules would only mark it} */
    boolean hard() default false;
}
