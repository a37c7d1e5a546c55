package calmstep.dialect;

/** What proves to a device that we may speak with it. */
public sealed interface Secret permits SshSecret, SnmpLogin {}
