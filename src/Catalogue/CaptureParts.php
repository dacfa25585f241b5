<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Catalogue\Value\RecordPlace;
use Ypomna\App\Store\Store;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\SocketLog;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Http\MalformedMessage;
use Ypomna\Core\Http\TooLarge;
use Ypomna\Core\Http\UnsupportedCoding;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Requisites;
use Ypomna\Core\Warc\WarcError;

/**
 * Which records belong to a capture: all of its file if that holds one page alone, as the files of one's own captures do; of a
 * crawl's file those that the page, its frames and its style ask for.
 */
final readonly class CaptureParts
{
    private const MOST = 5_000;
    /** How far frames and style sheets are followed. */
    private const DEPTH = 4;
    private const MOST_SOCKETS = 50;

    public function __construct(
        private Connection $database,
        private RecordFinder $records,
        private CaptureContent $content,
        private Store $store,
    ) {
    }

    /** Whether its file holds no other page. */
    public function isAlone(ReadCapture $capture): bool
    {
        return 2 > \count($this->database->fetchFirstColumn(
            'SELECT 1 FROM capture WHERE warc_file_id = ? AND redirect_to IS NULL LIMIT 2', [$capture->fileId],
        ));
    }

    /**
     * @return list<RecordPlace> answers; the page's own first
     */
    public function of(ReadCapture $capture): array
    {
        $own = $this->rows('r.warc_file_id = ? AND r.at_offset = ?', [$capture->fileId, $capture->responseOffset]);
        if ($this->isAlone($capture)) {
            return [
                ...$own,
                ...$this->rows(
                    "r.warc_file_id = ? AND r.role = 'answer' AND r.at_offset <> ? ORDER BY r.at_offset LIMIT ".self::MOST,
                    [$capture->fileId, $capture->responseOffset],
                ),
            ];
        }

        return [] === $own ? [] : $this->asked($capture, $own[0]);
    }

    /**
     * What a page of a file of many asks for, as it was received and as its scripts made it.
     *
     * @return list<RecordPlace>
     */
    public function askedFor(ReadCapture $capture): array
    {
        $own = $this->rows('r.warc_file_id = ? AND r.at_offset = ?', [$capture->fileId, $capture->responseOffset]);

        return [] === $own ? [] : $this->asked($capture, $own[0], true);
    }

    /**
     * Addresses that the capture asks for and that nobody has: as its own documents and styles name them, and as was found when it
     * was made.
     *
     * @param mixed $gaps what was found then
     *
     * @return list<string>
     */
    public function missing(ReadCapture $capture, mixed $gaps): array
    {
        $missing = [];
        foreach (\is_array($gaps) ? $gaps : [] as $gap) {
            $url = \is_array($gap) && \is_string($gap['url'] ?? null) ? Url::tryParse($gap['url']) : null;
            if (true === $url?->isWeb()) {
                $missing[(string) $url->withoutFragment()] = true;
            }
        }
        $own = $this->rows('r.warc_file_id = ? AND r.at_offset = ?', [$capture->fileId, $capture->responseOffset]);
        if ([] !== $own) {
            $this->asked($capture, $own[0], true, static function (string $url) use (&$missing): void { $missing[$url] = true; });
        }

        return array_map(\strval(...), array_keys(\array_slice($missing, 0, self::MOST, true)));
    }

    /**
     * @param bool $both whether the page counts as it was received, too, where it was rendered
     * @param \Closure(string): void|null $missing told of addresses that nobody has
     *
     * @return list<RecordPlace>
     */
    private function asked(ReadCapture $capture, RecordPlace $page, bool $both = false, ?\Closure $missing = null): array
    {
        $found = [$page->path.' '.$page->offset => $page];
        $open = [[$page, 0]];
        $left = self::MOST;
        while ([] !== $open && \count($found) < self::MOST) {
            [$place, $depth] = array_shift($open);
            foreach ($this->references($capture, $place, $both) as $url) {
                if (--$left < 0) {
                    break 2;
                }
                $part = $this->records->find($capture->viewer, $url, $capture->fileId, $capture->at);
                if (null === $part) {
                    $missing?->__invoke($url);
                }
                if (null === $part || isset($found[$part->path.' '.$part->offset]) || \count($found) >= self::MOST) {
                    continue;
                }
                $found[$part->path.' '.$part->offset] = $part;
                if ($depth + 1 < self::DEPTH && 1 === preg_match('#html|css#', $part->mime)) {
                    $open[] = [$part, $depth + 1];
                }
            }
        }

        foreach ($page->fileId === $capture->fileId ? $this->socketsOf($capture) : [] as $socket) {
            $found[$socket->path.' '.$socket->offset] = $socket;
        }

        return array_values($found);
    }

    /**
     * What was said on the web sockets of a page stands behind it, before the next page.
     *
     * @return list<RecordPlace>
     */
    private function socketsOf(ReadCapture $capture): array
    {
        $next = $this->database->fetchOne(
            'SELECT MIN(response_offset) FROM capture WHERE warc_file_id = ? AND response_offset > ?',
            [$capture->fileId, $capture->responseOffset],
        );
        $end = is_numeric($next) ? (int) $next : \PHP_INT_MAX;

        return $this->rows(
            "r.warc_file_id = ? AND r.at_offset > ? AND r.at_offset < ? AND r.role = 'answer' AND r.mime = ? LIMIT ".self::MOST_SOCKETS,
            [$capture->fileId, $capture->responseOffset, $end, SocketLog::TYPE],
        );
    }

    /**
     * @return list<string> absolute addresses
     */
    private function references(ReadCapture $capture, RecordPlace $place, bool $both): array
    {
        $isPage = $place->fileId === $capture->fileId && $place->offset === $capture->responseOffset;
        $urls = [];
        foreach ($isPage && null !== $capture->domOffset ? ($both ? [$capture->domOffset, null] : [$capture->domOffset]) : [null] as $dom) {
            try {
                $text = null === $dom
                    ? $this->text($place)
                    : Body::collect($this->store->record($capture->path, $dom)->block(), Document::MAX_BYTES);
            } catch (WarcError|UnsupportedCoding|MalformedMessage|TooLarge) {
                continue;
            }
            [$base, $wanted] = str_contains($place->mime, 'css') ? [null, Requisites::ofStyle($text)] : Requisites::of($text);
            $url = Url::tryParse($place->url);
            $base = null === $base ? $url : Url::tryParse($base, $url) ?? $url;
            foreach (array_merge(...$wanted) as $reference) {
                $target = Url::tryParse($reference, $base);
                if (true === $target?->isWeb()) {
                    $urls[(string) $target->withoutFragment()] = true;
                }
            }
        }

        return array_map(\strval(...), array_keys($urls));
    }

    private function text(RecordPlace $place): string
    {
        if (1 !== preg_match('#html|css#', $place->mime)) {
            return '';
        }
        $answer = $this->content->answer($place->path, $place->offset);
        $bytes = Body::collect(
            Body::decode($answer->body(), $answer->head?->fields->tokens('Content-Encoding') ?? []), Document::MAX_BYTES,
        );

        return Charset::text($bytes, $answer->head?->fields->get('Content-Type'));
    }

    /**
     * @param list<mixed> $parameters
     *
     * @return list<RecordPlace>
     */
    private function rows(string $where, array $parameters): array
    {
        return array_map(
            RecordPlace::fromRow(...),
            $this->database->fetchAllAssociative(
                'SELECT '.RecordFinder::COLUMNS.' FROM record r JOIN warc_file f ON f.id = r.warc_file_id WHERE '.$where, $parameters,
            ),
        );
    }
}
