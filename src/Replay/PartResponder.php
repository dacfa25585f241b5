<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\DriverManager;
use Doctrine\DBAL\Tools\DsnParser;
use Ypomna\App\Access\Gate;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureParts;
use Ypomna\App\Catalogue\Originals;
use Ypomna\App\Catalogue\ReadCaptures;
use Ypomna\App\Catalogue\RecordFinder;
use Ypomna\App\Catalogue\RecordRepository;
use Ypomna\App\Replay\Value\PartQuery;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\PublicUrl;
use Ypomna\App\Store\LedgerMirror;
use Ypomna\App\Store\Store;

/**
 * The short way to the parts of archived pages: a page has hundreds of them, and none needs more of the application than
 * what answers for it. Documents, and all that is not plainly a part, go the usual way.
 */
final class PartResponder
{
    /**
     * @param array<mixed> $server as PHP has it
     * @param \Closure(Connection): ReadingRights $rights who may read what
     *
     * @return bool whether it was answered
     */
    public static function answer(
        array $server,
        string $appHosts,
        string $pagesDomain,
        string $port,
        string $publicUrl,
        string $database,
        DataFolder $folder,
        \Closure $rights,
    ): bool {
        $text = static fn (string $name): string => \is_string($server[$name] ?? null) ? $server[$name] : '';
        $domain = '.'.$pagesDomain;
        $host = explode(':', strtolower($text('HTTP_HOST')), 2)[0];
        if ('' === $text('HTTP_SEC_FETCH_DEST') || !str_ends_with($host, $domain)
            || '' === $database || !\in_array($text('REQUEST_METHOD'), ['GET', 'HEAD', 'OPTIONS'], true)) {
            return false;
        }
        try {
            $public = new PublicUrl($publicUrl);
            $connection = self::connection($database);
        } catch (\InvalidArgumentException) {
            return false;
        }
        $hosts = new PageHosts($pagesDomain, new KeptHosts($connection));
        if (!(new HostNames($appHosts, $hosts, $port, $public))->isPage($text('HTTP_HOST'))) {
            return false;
        }
        $headers = [];
        foreach ([
            'sec-fetch-dest' => 'HTTP_SEC_FETCH_DEST',
            'sec-fetch-mode' => 'HTTP_SEC_FETCH_MODE',
            'range' => 'HTTP_RANGE',
            'origin' => 'HTTP_ORIGIN',
            'service-worker' => 'HTTP_SERVICE_WORKER',
            'access-control-request-headers' => 'HTTP_ACCESS_CONTROL_REQUEST_HEADERS',
        ] as $name => $key) {
            if ('' !== $text($key)) {
                $headers[$name] = $text($key);
            }
        }
        $ask = new PartQuery($text('REQUEST_METHOD'), $public->scheme, $host, $public->portPart(), $text('REQUEST_URI'), $headers);
        if ($ask->opensDocument()) {
            return false;
        }
        try {
            $answer = self::answers($hosts, $connection, $folder, $rights)->to($ask);
        } catch (\Throwable) {
            // Whatever it was: the usual way says it in full.
            return false;
        }
        http_response_code($answer->status);
        header_remove('X-Powered-By');
        foreach ($answer->headers as $name => $value) {
            if (null !== $value) {
                // A line end in a value would begin a field of the page's choosing.
                header($name.': '.preg_replace('/[\x00-\x08\x0a-\x1f\x7f]+/', ' ', $value));
            }
        }
        if (!isset($answer->headers['Content-Type'])) {
            header('Content-Type: application/octet-stream');
        }
        foreach ($answer->body as $piece) {
            echo $piece;
            flush();
        }

        return true;
    }

    /** The connection is kept from request to request: every change over it is one statement. */
    private static function connection(#[\SensitiveParameter] string $database): Connection
    {
        return DriverManager::getConnection([
            'driverOptions' => [\PDO::ATTR_PERSISTENT => true],
        ] + (new DsnParser(['mysql' => 'pdo_mysql']))->parse($database));
    }

    /** @param \Closure(Connection): ReadingRights $rights */
    private static function answers(PageHosts $hosts, Connection $connection, DataFolder $folder, \Closure $rights): PageAnswers
    {
        $store = new Store($folder);

        $gate = new Gate();
        $finder = new RecordFinder($connection, $gate);
        $content = new CaptureContent($store, new Originals($connection));
        $parts = new CaptureParts($connection, $finder, $content, $store);
        $holdings = new CatalogueHoldings(
            new ReadCaptures($connection, $gate), $finder, new RecordRepository($connection), $content, $store,
            new LedgerMirror($connection), $parts, new PartMemory($folder->path),
        );

        // Parts are no documents: nothing is told to our window.
        $words = new PageWords('', '', static fn (): string => '');

        return new PageAnswers($hosts, $rights($connection), $holdings, $words, '', ReadingProof::passing(), static fn (): array => []);
    }
}
