package calmstep.service.fleet;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

@Entity
@Table(name = "login")
class LoginRow {
    @Id String name = "";

    String kind = "password";
    String userName = "";
    byte[] secret = new byte[0];
    Instant changedAt = Instant.EPOCH;
    String changedBy = "";
}
