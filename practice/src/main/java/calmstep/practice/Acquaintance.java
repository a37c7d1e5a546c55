package calmstep.practice;

/**
 * A stand-in that shows itself and lets nobody in: enough to be found by a search.
 *
 * @param greeting what follows {@code SSH-2.0-} in its SSH greeting; empty for one without SSH
 * @param snmp {@code v2c}, {@code v3} or {@code none}
 */
record Acquaintance(String address, String greeting, String snmp, SnmpPort.Shown shown) {}
