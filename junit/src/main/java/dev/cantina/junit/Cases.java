package dev.cantina.junit;

import java.lang.annotation.Documented;
import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/** Stands on an empty class, in whose place the cases of a project are run. */
@Documented
@Retention(RetentionPolicy.RUNTIME)
@Target(ElementType.TYPE)
public @interface Cases {
    /** The project's folder, from the folder that the build runs in. */
    String project() default ".";

    /** Selectors as on the line of {@code cantina test}; all cases without one. */
    String[] select() default {};
}
