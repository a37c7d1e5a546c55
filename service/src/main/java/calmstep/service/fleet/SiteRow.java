package calmstep.service.fleet;

import calmstep.core.fleet.Site;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.ZoneId;
import java.util.List;

@Entity
@Table(name = "site")
class SiteRow {
    @Id String name = "";

    String title = "";
    String zone = "";

    /** Mail addresses, a blank between. */
    String contacts = "";

    /** A blank between. */
    String formerNames = "";

    List<String> formerNames() {
        return formerNames.isEmpty() ? List.of() : List.of(formerNames.split(" "));
    }

    Site site() {
        return new Site(
                name,
                title,
                ZoneId.of(zone),
                contacts.isEmpty() ? List.of() : List.of(contacts.split(" ")));
    }
}
