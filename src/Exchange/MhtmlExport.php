<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureParts;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Originals;
use Ypomna\App\Catalogue\RecordRepository;
use Ypomna\App\Catalogue\SeenRecords;
use Ypomna\App\Catalogue\Value\HeldPayload;
use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\Store;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Http\TooLarge;
use Ypomna\Core\Http\UnsupportedCoding;
use Ypomna\Core\Mhtml\CollectedPage;
use Ypomna\Core\Mhtml\CollectedPart;
use Ypomna\Core\Mhtml\MhtmlWriter;
use Ypomna\Core\Mhtml\Part;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Replay\HtmlRewriter;
use Ypomna\Core\Replay\OwnPlace;
use Ypomna\Core\Replay\ReferenceMapper;
use Ypomna\Core\Warc\HttpRecord;
use Ypomna\Core\Warc\WarcError;
use Ypomna\Core\Warc\WarcFindingCode;

/** Gives a capture out as one MHTML file, written from its records: the same bytes each time. */
final readonly class MhtmlExport
{
    private const MAX_PARTS = 5_000;

    public function __construct(
        private RecordRepository $records,
        private CaptureContent $content,
        private Store $store,
        private Originals $originals,
        private CaptureParts $parts,
        private SeenRecords $seen,
        private SeenFile $seenFile,
    ) {
    }

    /**
     * @param bool $scripts whether scripts stay: then the page is what the server sent, since scripts would do again what they have done in
     *     the rendered one
     *
     * @return \Generator<int, string>
     */
    public function mhtml(Viewer $viewer, Capture $capture, bool $scripts = false): \Generator
    {
        $parts = array_map(
            static fn (CollectedPart $part): Part => new Part($part->url, $part->contentType, $part->body),
            $this->page($viewer, $capture, $scripts)->parts,
        );
        // References lead to the parts by their addresses; what would reach beyond the file is taken out.
        $mapper = static fn (string $url): ReferenceMapper => new ReferenceMapper(new OwnPlace(), Url::parse($url));
        if ([] !== $parts && 1 === preg_match('#^text/html#', $parts[0]->contentType)) {
            $body = $parts[0]->body;
            $parts[0] = new Part(
                $parts[0]->location,
                $parts[0]->contentType,
                static fn (): array => [(new HtmlRewriter($mapper($capture->url), '', $scripts))
                    ->rewrite(Body::collect($body(), 4 * Document::MAX_BYTES))],
            );
        }

        return MhtmlWriter::write($capture->title ?? $capture->url, $capture->capturedAt, $capture->url, $capture->code, $parts);
    }

    /** The page with its parts, as they go into a file that holds several. */
    public function page(Viewer $viewer, Capture $capture, bool $scripts = false): CollectedPage
    {
        $parts = $seen = $leftOut = [];
        foreach ($this->parts->of(ReadCapture::of($viewer, $capture)) as $n => $place) {
            $isPage = 0 === $n;
            // A part that is there twice would be taken from its first place anyway.
            if (isset($seen[$place->url])
                || (!$isPage && (200 !== $place->status || (!$scripts && str_contains($place->mime, 'javascript'))))) {
                continue;
            }
            $seen[$place->url] = true;
            try {
                $parts[] = $isPage ? $this->document($capture, $scripts) : $this->part($place->url, $place->path, $place->offset);
            } catch (WarcError|TooLarge|UnsupportedCoding $e) {
                // Without a part that cannot be read the page is still one; without its document it is none.
                if ($isPage) {
                    throw $e instanceof WarcError ? $e : new WarcError(WarcFindingCode::BadHttp, $place->offset, $e->getMessage());
                }
                $leftOut[] = \sprintf(
                    '%s, a part of %s: %s',
                    mb_strimwidth($place->url, 0, 300, '…'),
                    mb_strimwidth($capture->url, 0, 300, '…'),
                    $e->getMessage(),
                );
            }
        }

        return new CollectedPage($capture->title ?? '', $capture->url, $capture->capturedAt, $parts, $leftOut);
    }

    /**
     * Where the records stand that the capture's file refers to for their content, in the order of their places; without those that do not
     * go along.
     *
     * @return list<HeldPayload>
     */
    public function originals(Capture $capture): array
    {
        $found = [];
        foreach ($this->records->revisits((int) $capture->warcFile->id, -1, self::MAX_PARTS) as $offset) {
            $header = $this->store->record($capture->warcFile->path, $offset)->header;
            $original = $this->originals->of($header);
            if (null !== $original && $original->path !== $capture->warcFile->path
                && $this->seen->mayGoAlong($original->path, $original->offset)) {
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
        $handle = fopen($this->store->local($capture->warcFile->path), 'r');
        while (false !== $handle && '' !== ($piece = (string) fread($handle, 1_048_576))) {
            yield $piece;
        }
        foreach ($originals as $original) {
            yield from $this->store->repacked($original->path, $original->offset);
        }
    }

    /**
     * The capture's file as it may be given to somebody, and the records that it refers to.
     *
     * @return \Generator<int, string>
     */
    public function seen(Viewer $viewer, Capture $capture): \Generator
    {
        $file = $capture->warcFile;
        foreach ($this->seenFile->records($viewer, (int) $file->id, $file->path, static function (): void {}) as $pieces) {
            foreach ($pieces as $piece) {
                yield $piece;
            }
        }
        foreach ($this->originals($capture) as $original) {
            yield from $this->store->repacked($original->path, $original->offset);
        }
    }

    /**
     * The body of an answer with its codings taken off.
     *
     * @return iterable<string>
     *
     * @throws WarcError|UnsupportedCoding
     */
    public function bytes(string $path, int $offset): iterable
    {
        return $this->decoded($this->content->answer($path, $offset));
    }

    /** What the server said that it is; '' if it did not. */
    public function contentType(string $path, int $offset): string
    {
        $record = $this->content->answer($path, $offset);

        return $record->head?->fields->get('Content-Type') ?? $record->record->header->contentType() ?? '';
    }

    private function part(string $url, string $path, int $offset): CollectedPart
    {
        $record = $this->content->answer($path, $offset);
        $type = $record->head?->fields->get('Content-Type') ?? $record->record->header->contentType() ?? 'application/octet-stream';
        $isText = 1 === preg_match('#^(?:text/html|application/xhtml\+xml|text/css)\b#i', $type);
        $body = function () use ($path, $offset, $isText, $type): iterable {
            $pieces = $this->decoded($this->content->answer($path, $offset));
            if (!$isText) {
                return $pieces;
            }
            $bytes = Body::collect($pieces, 4 * Document::MAX_BYTES);

            return [Charset::text($bytes, $type)];
        };
        $digest = hash_init('sha256');
        foreach ($body() as $piece) {
            hash_update($digest, $piece);
        }

        return new CollectedPart(
            $url, $isText ? (string) preg_replace('/;.*/s', '', $type).'; charset=utf-8' : $type, hash_final($digest), $body,
        );
    }

    private function document(Capture $capture, bool $scripts): CollectedPart
    {
        if ($scripts || null === $capture->domOffset) {
            return $this->part($capture->url, $capture->warcFile->path, $capture->responseOffset);
        }

        return new CollectedPart(
            $capture->url,
            'text/html; charset=utf-8',
            hash('sha256', $capture->code),
            fn (): iterable => $this->store->record($capture->warcFile->path, $capture->domOffset)->block(),
        );
    }

    /**
     * @return iterable<string> the body with its content-coding taken off
     *
     * @throws UnsupportedCoding
     */
    private function decoded(HttpRecord $record): iterable
    {
        return Body::decode($record->body(), $record->head?->fields->tokens('Content-Encoding') ?? []);
    }
}
