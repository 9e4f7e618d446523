namespace WiseLoom.Core.Shop;

/// <summary>What a line of the audit list tells of.</summary>
public enum AuditEvent
{
    /// <summary>Somebody came in.</summary>
    SignedIn,

    /// <summary>Somebody was not let in.</summary>
    SignInRefused,

    /// <summary>Somebody left.</summary>
    SignedOut,

    /// <summary>A session was ended from elsewhere.</summary>
    SessionEnded,

    /// <summary>An account was made.</summary>
    AccountMade,

    /// <summary>An account was given another name, role or state.</summary>
    AccountChanged,

    /// <summary>A one-time link was made.</summary>
    LinkMade,

    /// <summary>A password was set or changed.</summary>
    PasswordSet,

    /// <summary>Something was asked for that is not within the person's rights.</summary>
    RightRefused,
}
