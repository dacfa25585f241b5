<?php

declare(strict_types=1);

namespace Ypomna\App\Custody;

use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Originals;
use Ypomna\App\Catalogue\Row;
use Ypomna\App\Catalogue\Value\HeldPayload;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Http\UnsupportedCoding;
use Ypomna\Core\Mhtml\Part;
use Ypomna\Core\Mhtml\Writer;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Replay\HtmlRewriter;
use Ypomna\Core\Replay\OwnPlace;
use Ypomna\Core\Replay\ReferenceMapper;
use Ypomna\Core\Warc\Reader;

/** Gives a capture out as one MHTML file, written from its records: the same bytes each time. */
final readonly class CaptureExport
{
    private const MAX_PARTS = 5_000;

    public function __construct(private Connection $database, private CaptureContent $content, private Store $store, private Originals $originals)
    {
    }

    /**
     * @return \Generator<int, string>
     */
    public function mhtml(Capture $capture): \Generator
    {
        return Writer::write($capture->title ?? $capture->url, $capture->capturedAt, $capture->url, $capture->code, $this->parts($capture));
    }

    /**
     * Where the records stand that the capture's file refers to for their content, in the order of their places.
     *
     * @return list<HeldPayload>
     */
    public function originals(Capture $capture): array
    {
        $found = [];
        foreach ($this->database->fetchFirstColumn('SELECT at_offset FROM record WHERE warc_file_id = ? AND revisit = 1 ORDER BY at_offset LIMIT '.self::MAX_PARTS, [$capture->warcFile->id]) as $offset) {
            $header = Reader::at($this->store->path($capture->warcFile->path), is_numeric($offset) ? (int) $offset : 0)->header;
            $original = $this->originals->of($header);
            if (null !== $original && $original->path !== $capture->warcFile->path) {
                $found[$original->path.' '.$original->offset] = $original;
            }
        }
        ksort($found);

        return array_values($found);
    }

    /**
     * The capture's file, and behind it the records that it refers to, as they stand in theirs: whole by itself.
     *
     * @param list<HeldPayload> $originals
     *
     * @return \Generator<int, string>
     */
    public function warc(Capture $capture, array $originals): \Generator
    {
        $handle = fopen($this->store->path($capture->warcFile->path), 'r');
        while (false !== $handle && '' !== ($piece = (string) fread($handle, 1_048_576))) {
            yield $piece;
        }
        foreach ($originals as $original) {
            yield from Reader::member($this->store->path($original->path), $original->offset);
        }
    }

    /**
     * @return \Generator<int, Part>
     */
    private function parts(Capture $capture): \Generator
    {
        yield $this->page($capture);
        $seen = [$capture->url => true];
        $rows = $this->database->fetchAllAssociative(
            "SELECT at_offset, url, mime FROM record WHERE warc_file_id = ? AND role = 'answer' AND status = 200 AND at_offset <> ? ORDER BY at_offset LIMIT ".self::MAX_PARTS,
            [$capture->warcFile->id, $capture->responseOffset],
        );
        foreach ($rows as $values) {
            $row = new Row($values);
            $url = $row->text('url');
            // Scripts do not run in such a file; a part that is there twice would be taken from its first place anyway.
            if (!isset($seen[$url]) && !str_contains($row->text('mime'), 'javascript')) {
                $seen[$url] = true;
                yield $this->part($capture, $url, $row->int('at_offset'));
            }
        }
    }

    private function part(Capture $capture, string $url, int $offset): Part
    {
        $record = $this->content->answer($capture->warcFile->path, $offset);
        $type = $record->head?->fields->get('Content-Type') ?? $record->record->header->contentType() ?? 'application/octet-stream';

        return new Part($url, $type, static function () use ($record): iterable {
            try {
                return Body::decode($record->body(), $record->head?->fields->tokens('Content-Encoding') ?? []);
            } catch (UnsupportedCoding) {
                return [];
            }
        });
    }

    private function page(Capture $capture): Part
    {
        $isHtml = null !== $capture->domOffset || 1 === preg_match('#html#', $capture->mime ?? '');
        if (!$isHtml) {
            return $this->part($capture, $capture->url, $capture->responseOffset);
        }

        return new Part($capture->url, 'text/html; charset=utf-8', function () use ($capture): iterable {
            if (null !== $capture->domOffset) {
                $html = Body::collect(Reader::at($this->store->path($capture->warcFile->path), $capture->domOffset)->block(), 4 * Document::MAX_BYTES);
            } else {
                $record = $this->content->answer($capture->warcFile->path, $capture->responseOffset);
                $bytes = Body::collect(Body::decode($record->body(), $record->head?->fields->tokens('Content-Encoding') ?? []), 4 * Document::MAX_BYTES);
                $html = Charset::toUtf8($bytes, Charset::detect($bytes, $record->head?->fields->get('Content-Type')));
            }
            $mapper = new ReferenceMapper(new OwnPlace(), Url::parse($capture->url));

            return [(new HtmlRewriter($mapper, '', false))->rewrite($html)];
        });
    }
}
