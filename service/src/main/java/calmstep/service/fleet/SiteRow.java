package calmstep.service.fleet;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;

@Entity
@Table(name = "site")
class SiteRow {
    @Id
    String name = "";

    String title = "";
    String zone = "";
}
