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
        string $pageHost,
        string $port,
        string $publicUrl,
        string $database,
        DataFolder $folder,
        \Closure $rights,
    ): bool {
        $text = static fn (string $name): string => \is_string($server[$name] ?? null) ? $server[$name] : '';
        $hosts = new PageHosts($pageHost);
        if ('' === $text('HTTP_SEC_FETCH_DEST') || !(new HostNames('', $hosts, $port, $publicUrl))->isPage($text('HTTP_HOST'))
            || '' === $database || !\in_array($text('REQUEST_METHOD'), ['GET', 'HEAD', 'OPTIONS'], true)) {
            return false;
        }
        [$host, $port] = explode(':', strtolower($text('HTTP_HOST')), 2) + [1 => ''];
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
        $scheme = \in_array(strtolower($text('HTTPS')), ['', 'off'], true) ? 'http' : 'https';
        $ask = new PartQuery(
            $text('REQUEST_METHOD'),
            $scheme,
            $host,
            '' === $port || '80' === $port || '443' === $port ? '' : ':'.$port,
            $text('REQUEST_URI'),
            $headers,
        );
        if ($ask->opensDocument()) {
            return false;
        }
        try {
            $answer = self::answers($hosts, $database, $folder, $rights)->to($ask);
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

    /** @param \Closure(Connection): ReadingRights $rights */
    private static function answers(PageHosts $hosts, string $database, DataFolder $folder, \Closure $rights): PageAnswers
    {
        // The connection is kept from request to request: nothing is ever changed over it.
        $connection = DriverManager::getConnection([
            'driverOptions' => [\PDO::ATTR_PERSISTENT => true],
        ] + (new DsnParser(['mysql' => 'pdo_mysql']))->parse($database));
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

        return new PageAnswers($hosts, $rights($connection), $holdings, $words, '', ReadingProof::passing(), '');
    }
}
