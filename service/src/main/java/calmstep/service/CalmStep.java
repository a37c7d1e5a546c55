package calmstep.service;

import org.springframework.boot.SpringApplication;
import org.springframework.boot.autoconfigure.SpringBootApplication;
import org.springframework.boot.context.properties.ConfigurationPropertiesScan;

/** The service process. */
@SpringBootApplication
@ConfigurationPropertiesScan
public class CalmStep {
    static {
        // A JDK refuses to sign in at a proxy for a tunnel unless told so: our users know their
        // proxy. It looks when the first client of all is made.
        System.setProperty("jdk.http.auth.tunneling.disabledSchemes", "");
    }

    public static void main(String[] arguments) {
        SpringApplication.run(CalmStep.class, arguments);
    }
}
