package calmstep.service;

import java.nio.file.Path;
import org.springframework.boot.context.properties.ConfigurationProperties;

/**
 * What the service is told at its start.
 *
 * @param data folder for images and quarantine
 * @param keyFile key that seals device secrets; made at the first start
 * @param dialects folder of dialect files
 * @param pace how much faster than ours the devices' clocks run: 1 for real devices, more only for
 *     a practice fleet
 * @param keptDays how long backups are kept, in days; 0 for ever
 * @param agent socket of the SSH agent that logins may name; empty where there is none
 * @param mail how contacts of sites are told
 * @param shelf the file servers for devices
 */
@ConfigurationProperties("calmstep")
public record Settings(
        Path data,
        Path keyFile,
        Path dialects,
        int pace,
        int keptDays,
        String agent,
        MailSettings mail,
        ShelfSettings shelf) {
    /**
     * @param host of the SMTP server; empty where nobody is told
     * @param from whom the mail is from
     * @param user that signs in; empty for none
     * @param startTls whether the line has to be encrypted before anything is sent
     */
    public record MailSettings(
            String host, int port, String from, String user, String password, boolean startTls) {}

    /**
     * @param address address that the shelf's servers are bound to
     * @param told address that devices are told; another one where there is translation in between.
     *     Where it means all of this machine's, each device is told the one that the route to it
     *     leaves by
     * @param sftpPort 0 where nothing is served over SFTP
     * @param by how devices are told to pull: {@code http}, {@code tftp} or {@code sftp}
     */
    public record ShelfSettings(
            String address, String told, int httpPort, int tftpPort, int sftpPort, String by) {
        /** The port of the protocol that devices are told to pull by. */
        public int port() {
            return switch (by) {
                case "tftp" -> tftpPort;
                case "sftp" -> sftpPort;
                default -> httpPort;
            };
        }
    }
}
