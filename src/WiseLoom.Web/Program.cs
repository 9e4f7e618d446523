using Microsoft.AspNetCore.HostFiltering;
using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.AspNetCore.DataProtection.KeyManagement;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.FileProviders;
using Microsoft.Extensions.Options;
using Npgsql;
using WiseLoom.Store;
using WiseLoom.Web.Bench;
using WiseLoom.Web.Book;
using WiseLoom.Web.Demo;
using WiseLoom.Web.Faults;
using WiseLoom.Web.Handover;
using WiseLoom.Web.Http;
using WiseLoom.Web.Meters;
using WiseLoom.Web.Jobs;
using WiseLoom.Web.Library;
using WiseLoom.Web.Live;
using WiseLoom.Web.Looms;
using WiseLoom.Web.Merges;
using WiseLoom.Web.People;
using WiseLoom.Web.PowerUp;
using WiseLoom.Web.Records;
using WiseLoom.Web.Runs;
using WiseLoom.Web.States;
using WiseLoom.Web.Work;

var builder = WebApplication.CreateBuilder(args);
var database = builder.Configuration["WISELOOM_DB"]
    ?? throw new InvalidOperationException("WISELOOM_DB is not set: give it a PostgreSQL connection string, or start with ./wise-loom start.");
var secret = KeySeal.Read(builder.Configuration["WISELOOM_SECRET"]);
try
{
    Database.Migrate(builder.Configuration["WISELOOM_MIGRATIONS_DB"] ?? database, new NpgsqlConnectionStringBuilder(database).Username);
}
catch (NewerSchemaException e)
{
    await Console.Error.WriteLineAsync(e.Message);
    return NewerSchemaException.ExitCode;
}

// What strangers send writes no line, whatever level is set for all: only what broke here does.
builder.Logging.AddFilter("Microsoft.AspNetCore", LogLevel.Error).AddFilter("Microsoft.AspNetCore.Antiforgery", LogLevel.None).AddFilter("Npgsql", LogLevel.Warning);
builder.WebHost.ConfigureKestrel(k => k.AddServerHeader = false);
builder.Services.AddNpgsqlDataSource(new NpgsqlConnectionStringBuilder(database) { MaxPoolSize = 30, MaxAutoPrepare = 60, AutoPrepareMinUsages = 2 }.ConnectionString);
builder.Services.AddSingleton<PeopleStore>().AddSingleton<AccountStore>().AddSingleton<SessionStore>().AddSingleton<AuditStore>().AddSingleton<JobStore>().AddSingleton<LoomStore>().AddSingleton<RunStore>()
    .AddSingleton<PackStore>().AddSingleton<ReviewStore>().AddSingleton<MeterStore>().AddSingleton<CookieKeyStore>().AddSingleton<SignInTryStore>()
    .AddSingleton<LibraryStore>().AddSingleton<IntakeStore>().AddSingleton<FirstHourStore>().AddSingleton<SheetStore>().AddSingleton<DraftStore>().AddSingleton<MergeStore>().AddSingleton<LimitStore>().AddSingleton<PairStore>().AddSingleton<FaultLogStore>().AddSingleton<PresenceStore>().AddSingleton<PhotoStore>().AddSingleton<PackingPhotoStore>();
builder.Services.AddSingleton<LoomLibrary>().AddSingleton<RunLedger>().AddSingleton<PackDrafter>().AddSingleton<PackMaker>().AddSingleton<PdfPrinter>().AddSingleton<DemoWorld>().AddSingleton<DemoBench>()
    .AddSingleton<ShopLibrary>().AddSingleton<CarryOver>().AddSingleton<BenchPace>().AddSingleton<DraftCache>().AddSingleton<StateLibrary>().AddSingleton<DiagnosisCache>().AddSingleton<DemoBook>();
builder.Services.AddSingleton<InstrumentNetworks>().AddSingleton<KnownBrowser>().AddSingleton<SerialPorts>().AddSingleton<MeterQueue>().AddSingleton<PowerUpPlans>().AddSingleton<PaperShelf>();
builder.Services.AddSingleton<IPasswordHasher<Person>, PasswordHasher<Person>>();
builder.Services.AddSingleton<PageStreams>().AddSingleton<JobChanges>().AddHostedService(s => s.GetRequiredService<JobChanges>());
builder.Services.AddHostedService<WarmStart>();
builder.Services.AddHostedService<MemoryReturn>();
builder.Services.AddSingleton(TimeProvider.System);

// Heavy work holds its thread: as many more, that what is light never waits for one.
var heavyAtOnce = Math.Max(2, Environment.ProcessorCount);
builder.Services.AddSingleton(s => new HeavyQueue(heavyAtOnce, s.GetRequiredService<TimeProvider>()));
ThreadPool.GetMinThreads(out var threads, out var ports);
ThreadPool.SetMinThreads(threads + heavyAtOnce, ports);
builder.Services.AddShopSignIn(CookieNames.Of(builder.Configuration));
builder.AddProxies();
if (builder.Configuration["WISELOOM_HOSTS"] is { Length: > 0 } hosts)
{
    builder.Services.Configure<HostFilteringOptions>(o => o.AllowedHosts = hosts.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries));
}

builder.Services.AddSingleton(secret).AddSingleton<IConfigureOptions<KeyManagementOptions>, CookieKeys>();
builder.Services.AddHealthChecks().AddCheck<DatabaseHealth>("database");
builder.AddMeasurements();
builder.Services.AddProblemDetails().AddExceptionHandler<UnreadableBody>().AddExceptionHandler<DatabaseTrouble>();
builder.Services.Configure<RouteHandlerOptions>(o => o.ThrowOnBadRequest = false);
builder.Services.AddOpenApi("v1", o => o.AddSchemaTransformer<NumbersArePlain>().AddSchemaTransformer<PlacesAreText>().AddDocumentTransformer<ApiDescription>().AddOperationTransformer<ApiDescription>());
builder.Services.ConfigureHttpJsonOptions(o =>
{
    o.SerializerOptions.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower));
    o.SerializerOptions.NumberHandling = JsonNumberHandling.Strict;
    o.SerializerOptions.RespectNullableAnnotations = true;
    o.SerializerOptions.RespectRequiredConstructorParameters = true;
    o.SerializerOptions.AllowDuplicateProperties = false;
    o.SerializerOptions.AllowOutOfOrderMetadataProperties = true;
    o.SerializerOptions.MaxDepth = 32;
});

var app = builder.Build();
app.UseForwardedHeaders();
app.UseExceptionHandler();
app.UseStatusCodePages();
app.UseSafetyHeaders();
app.Use(next => context => RequestBorder.Address(context, next));
ServePages(app, builder.Configuration["WISELOOM_PAGES"]);
app.UseAuthentication();
app.UseAuthorization();
app.UseMiddleware<BodyLimit>();
app.UseMiddleware<TokenCheck>();
app.UseMiddleware<RightsCheck>();
app.UseMiddleware<HeavyGate>();

app.MapHealthChecks("/health").AllowAnonymous();
app.MapOpenApi("/openapi/{documentName}.json").RequireAuthorization();
var api = app.MapGroup("/api").RequireAuthorization().AddEndpointFilter<RouteGroupBuilder, RequestBorder>();
api.MapSession();
api.MapPasswords();
api.MapAccounts();
api.MapJobs();
api.MapLooms();
api.MapIntake();
api.MapFirstHour();
api.MapDrafts();
api.MapStates();
api.MapSensors();
api.MapRevisions();
api.MapLibrary();
api.MapLimits();
api.MapSheets();
api.MapLoose();
api.MapCompare();
api.MapMerges();
api.MapStart();
api.MapReadings();
api.MapWay();
api.MapPeopleOnRun();
api.MapHandsFree();
api.MapCare();
api.MapGroups();
api.MapWiggle();
api.MapPhotos();
api.MapMatrix();
api.MapInstruments();
api.MapMeterWays();
api.MapRecords();
api.MapResults();
api.MapBringIn();
api.MapPairs();
api.MapFaults();
api.MapDecisions();
api.MapProbes();
api.MapSightings();
api.MapPowerUp();
api.MapController();
api.MapCorrection();
api.MapFaultLog();
api.MapHandover();
api.MapPackingPhotos();
api.MapReviews();
api.MapLabels();
api.MapLive();
api.MapWork();
api.MapFallback(() => Results.Problem(statusCode: 404, title: "There is nothing at this address."));
app.MapSharedPacks();
app.MapCustomersPages();

await app.Services.GetRequiredService<RunLedger>().SummariseAsync(app.Lifetime.ApplicationStopping);
await app.Services.GetRequiredService<DemoWorld>().LoadOnceAsync(app.Lifetime.ApplicationStopping);
await app.Services.GetRequiredService<FirstLead>().TellAsync(app.Lifetime.ApplicationStopping);
await app.RunAsync();
return 0;

// The built front end; every other address of a page leads to it, so that an address can be sent to a colleague.
static void ServePages(WebApplication app, string? folder)
{
    if (folder is null || !Directory.Exists(folder))
    {
        return;
    }

    var files = new PhysicalFileProvider(Path.GetFullPath(folder));
    app.UseStaticFiles(new StaticFileOptions
    {
        FileProvider = files,
        OnPrepareResponse = c => c.Context.Response.Headers.CacheControl =
            c.Context.Request.Path.StartsWithSegments("/assets", StringComparison.Ordinal) ? "public, max-age=31536000, immutable" : "no-cache",
    });
    app.MapFallbackToFile("index.html", new StaticFileOptions { FileProvider = files }).AllowAnonymous();
}

/// <summary>Named so that tests can start the application.</summary>
public partial class Program;
