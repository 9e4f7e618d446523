namespace WiseLoom.Web.Tests;

/// <summary>A shop for the tests of one class alone: its limits can be changed without other tests noticing.</summary>
public sealed class OwnShop : IAsyncLifetime
{
    internal Shop Shop { get; } = new();

    public ValueTask InitializeAsync() => Shop.InitializeAsync();

    public ValueTask DisposeAsync() => Shop.DisposeAsync();
}
