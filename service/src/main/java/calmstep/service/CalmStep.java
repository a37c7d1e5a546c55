package calmstep.service;

import org.springframework.boot.SpringApplication;
import org.springframework.boot.autoconfigure.SpringBootApplication;
import org.springframework.boot.context.properties.ConfigurationPropertiesScan;

/** The service process. */
@SpringBootApplication
@ConfigurationPropertiesScan
public class CalmStep {
    public static void main(String[] arguments) {
        SpringApplication.run(CalmStep.class, arguments);
    }
}
