<?php

declare(strict_types=1);

namespace Ypomna\App\Custody;

use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Replay\RecordFinder;
use Ypomna\App\Replay\RecordPlace;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Http\MalformedMessage;
use Ypomna\Core\Http\TooLarge;
use Ypomna\Core\Http\UnsupportedCoding;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Requisites;
use Ypomna\Core\Warc\Reader;
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

    public function __construct(private Connection $database, private RecordFinder $records, private CaptureContent $content, private Store $store)
    {
    }

    /** Whether its file holds no other page. */
    public function isAlone(Capture $capture): bool
    {
        return 2 > \count($this->database->fetchFirstColumn('SELECT 1 FROM capture WHERE warc_file_id = ? AND redirect_to IS NULL LIMIT 2', [$capture->warcFile->id]));
    }

    /**
     * @return list<RecordPlace> answers; the page's own first
     */
    public function of(Capture $capture): array
    {
        $own = $this->rows('r.warc_file_id = ? AND r.at_offset = ?', [$capture->warcFile->id, $capture->responseOffset]);
        if ($this->isAlone($capture)) {
            return [...$own, ...$this->rows("r.warc_file_id = ? AND r.role = 'answer' AND r.at_offset <> ? ORDER BY r.at_offset LIMIT ".self::MOST, [$capture->warcFile->id, $capture->responseOffset])];
        }

        return [] === $own ? [] : $this->asked($capture, $own[0]);
    }

    /**
     * @return list<RecordPlace>
     */
    private function asked(Capture $capture, RecordPlace $page): array
    {
        $found = [$page->path.' '.$page->offset => $page];
        $open = [[$page, 0]];
        while ([] !== $open && \count($found) < self::MOST) {
            [$place, $depth] = array_shift($open);
            foreach ($this->references($capture, $place) as $url) {
                $part = $this->records->find($url, (int) $capture->warcFile->id, $capture->capturedAt);
                if (null === $part || isset($found[$part->path.' '.$part->offset]) || \count($found) >= self::MOST) {
                    continue;
                }
                $found[$part->path.' '.$part->offset] = $part;
                if ($depth + 1 < self::DEPTH && 1 === preg_match('#html|css#', $part->mime)) {
                    $open[] = [$part, $depth + 1];
                }
            }
        }

        return array_values($found);
    }

    /**
     * @return list<string> absolute addresses
     */
    private function references(Capture $capture, RecordPlace $place): array
    {
        try {
            $text = $this->text($capture, $place);
        } catch (WarcError|UnsupportedCoding|MalformedMessage|TooLarge) {
            return [];
        }
        $isStyle = str_contains($place->mime, 'css');
        [$base, $wanted] = $isStyle ? [null, Requisites::ofStyle($text)] : Requisites::of($text);
        $url = Url::tryParse($place->url);
        $base = null === $base ? $url : Url::tryParse($base, $url) ?? $url;
        $urls = [];
        foreach (array_merge(...$wanted) as $reference) {
            $target = Url::tryParse($reference, $base);
            if (true === $target?->isWeb()) {
                $urls[(string) $target->withoutFragment()] = true;
            }
        }

        return array_map(\strval(...), array_keys($urls));
    }

    private function text(Capture $capture, RecordPlace $place): string
    {
        if (null !== $capture->domOffset && $place->fileId === $capture->warcFile->id && $place->offset === $capture->responseOffset) {
            return Body::collect(Reader::at($this->store->path($place->path), $capture->domOffset)->block(), Document::MAX_BYTES);
        }
        if (1 !== preg_match('#html|css#', $place->mime)) {
            return '';
        }
        $answer = $this->content->answer($place->path, $place->offset);
        $bytes = Body::collect(Body::decode($answer->body(), $answer->head?->fields->tokens('Content-Encoding') ?? []), Document::MAX_BYTES);

        return Charset::toUtf8($bytes, Charset::detect($bytes, $answer->head?->fields->get('Content-Type')));
    }

    /**
     * @param list<mixed> $parameters
     *
     * @return list<RecordPlace>
     */
    private function rows(string $where, array $parameters): array
    {
        return array_map(RecordPlace::fromRow(...), $this->database->fetchAllAssociative('SELECT '.RecordFinder::COLUMNS.' FROM record r JOIN warc_file f ON f.id = r.warc_file_id WHERE '.$where, $parameters));
    }
}
