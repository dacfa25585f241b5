<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Cache\CacheItemPoolInterface;
use Symfony\Bundle\FrameworkBundle\KernelBrowser;
use Symfony\Bundle\FrameworkBundle\Test\WebTestCase;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Security\Core\Authentication\Token\Storage\TokenStorageInterface;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Exchange\Importer;
use Ypomna\App\Exchange\Value\ImportResult;
use Ypomna\App\People\Account;
use Ypomna\App\People\Entity\Person;
use Ypomna\App\People\Passwords;
use Ypomna\App\People\PersonChanges;
use Ypomna\App\People\PersonRepository;
use Ypomna\App\People\Sessions;
use Ypomna\App\Replay\PageHosts;
use Ypomna\App\Replay\ReadingRights;
use Ypomna\App\Replay\ReplayMode;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Settings;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\TestClock;
use Ypomna\Tests\Support\TestFolder;
use Ypomna\Tests\Support\WarcBuilder;

/** The application with a real database, emptied after each test, and a data folder of the test's own. */
abstract class AppTestCase extends WebTestCase
{
    protected const HOST = 'localhost:8020';

    protected KernelBrowser $client;
    private ?Account $account = null;
    protected Folder $folder;

    protected function setUp(): void
    {
        $data = Settings::dataFolder();
        TestFolder::check($data);
        TestClock::reset();
        (new Filesystem())->remove([$data.'/store', $data.'/ledger', $data.'/work']);
        $this->folder = new Folder();
        $this->client = self::createClient([], ['HTTP_HOST' => self::HOST]);
        $this->client->disableReboot();
        $this->signIn('Tomas Okoye', Role::Custodian);
    }

    /**
     * Begins anew with other settings, the same person signed in.
     *
     * @param array<string, string> $server what each request says unless it says otherwise
     */
    protected function anew(array $server): void
    {
        self::ensureKernelShutdown();
        $this->client = self::createClient([], $server);
        $this->client->disableReboot();
        $this->signIn('Tomas Okoye', Role::Custodian);
    }

    protected function tearDown(): void
    {
        parent::tearDown();
        // Symfony leaves its handler behind when an exception was shown as a page.
        restore_exception_handler();
    }

    /** Signs somebody in by the back door; the person is made if there is none of that name. */
    protected function signIn(string $name, Role $role): Account
    {
        $account = self::service(Sessions::class)->begin($this->person($name, $role));
        $this->client->loginUser($account);
        $this->account = $account;

        return $account;
    }

    protected function person(string $name, Role $role, ?string $password = null): Person
    {
        $hash = null === $password ? null : self::service(Passwords::class)->hashAnyhow($password);

        return self::service(PersonRepository::class)->named($name)
            ?? self::service(PersonChanges::class)->add(new Actor('The test'), $name, $role, null, $hash);
    }

    /** What was asked too often in another test is asked for the first time. */
    protected static function forgetHowOften(): void
    {
        $limits = self::getContainer()->get('cache.rate_limiter');
        self::assertInstanceOf(CacheItemPoolInterface::class, $limits);
        $limits->clear();
    }

    protected function signOut(): void
    {
        $this->client->getCookieJar()->clear();
        $this->account = null;
        self::service(TokenStorageInterface::class)->setToken(null);
    }

    protected function takeIn(WarcBuilder $warc, string $name = 'a.warc.gz'): ImportResult
    {
        return self::service(Importer::class)->file($this->folder->file($name, $warc->bytes()), new Actor('Tomas Okoye'));
    }

    /**
     * @template T of object
     *
     * @param class-string<T> $class
     *
     * @return list<T> in the order in which they were made
     */
    protected static function made(string $class): array
    {
        return self::service(EntityManagerInterface::class)->getRepository($class)->findBy([], ['id' => 'ASC']);
    }

    protected function captureOf(string $url, string $moment = '2030-01-01'): Capture
    {
        $capture = self::service(CaptureRepository::class)->nearest(Viewer::system(), $url, new \DateTimeImmutable($moment));
        self::assertNotNull($capture);

        return $capture;
    }

    /**
     * Where something archived is answered, by the right of that label.
     *
     * @param string $mark `-` and letters: `s` without scripts, `o` only what that capture has
     */
    protected static function pageHost(string $url, string $label, string $mark = ''): string
    {
        $mode = str_contains($mark, 's') ? ReplayMode::Still : ReplayMode::Alive;
        $hosts = self::service(PageHosts::class);
        $host = $hosts->hostOf(Url::parse($url), $label, $mode, str_contains($mark, 'o'));
        $hosts->keep();

        return $host.':8020';
    }

    /** What an archived page's host answers. */
    protected function page(string $url, string $code, string $mark = '', string $destination = 'iframe', string $method = 'GET'): string
    {
        $parts = parse_url($url);
        self::assertIsArray($parts);
        $host = self::pageHost($url, $this->label($code), $mark);
        ob_start();
        $this->client->request(
            $method,
            ($parts['path'] ?? '/').(isset($parts['query']) ? '?'.$parts['query'] : ''),
            server: ['HTTP_HOST' => $host, 'HTTP_SEC_FETCH_DEST' => $destination],
        );
        ob_end_clean();

        return $this->body();
    }

    /** By which whoever has signed in reads a capture. */
    protected function label(string $code): string
    {
        return self::service(ReadingRights::class)->label($this->account?->viewer() ?? Viewer::nobody(), $code);
    }

    protected function get(string $path): string
    {
        ob_start();
        $this->client->request('GET', $path);
        ob_end_clean();

        return $this->body();
    }

    protected function answered(): int
    {
        return $this->client->getResponse()->getStatusCode();
    }

    protected function header(string $name): string
    {
        return (string) $this->client->getResponse()->headers->get($name);
    }

    protected function body(): string
    {
        return $this->client->getInternalResponse()->getContent();
    }

    /**
     * @template T of object
     *
     * @param class-string<T> $class
     *
     * @return T
     */
    protected static function service(string $class): object
    {
        $service = self::getContainer()->get($class);
        self::assertInstanceOf($class, $service);

        return $service;
    }
}
