<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Store\Store;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Http\UnsupportedCoding;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Warc\HttpRecord;
use Ypomna\Core\Warc\Record;
use Ypomna\Core\Warc\RecordType;
use Ypomna\Core\Warc\WarcError;
use Ypomna\Core\Warc\WarcFindingCode;

/** What a capture holds, read from its file. */
final readonly class CaptureContent
{
    /** How much of a document is searched for its title, in bytes. */
    private const BEGINNING = 131_072;

    public function __construct(private Store $store, private Originals $originals)
    {
    }

    /**
     * The page as a reader saw it: the rendered document where it was kept, else the answer itself.
     *
     * @throws WarcError if the file is damaged or gone
     */
    public function document(Capture $capture): Document
    {
        if (null !== $capture->domOffset) {
            $block = $this->store->record($capture->warcFile->path, $capture->domOffset)->block();

            return Document::fromHtml(self::firstBytes($block), 'text/html; charset=utf-8', $capture->url);
        }
        $answer = $this->answer($capture->warcFile->path, $capture->responseOffset);
        $type = (null === $answer->head ? $answer->record->header->contentType() : $answer->head->fields->get('Content-Type')) ?? '';
        if (1 === preg_match('#html|xml#i', $type) || '' === $type) {
            return Document::fromHtml(self::firstBytes($this->decoded($answer)), $type, $capture->url);
        }

        return match (true) {
            1 === preg_match('#^(?:text|application)/csv#i', $type) => Document::fromCsv(self::firstBytes($this->decoded($answer)), $type),
            1 === preg_match('#^application/pdf#i', $type) => Document::fromPages(PdfText::pages($this->decoded($answer))),
            1 === preg_match('#^text/#i', $type) => Document::fromText(self::firstBytes($this->decoded($answer))),
            default => Document::fromText(''),
        };
    }

    /**
     * The bytes of an answer, its content-coding taken off.
     *
     * @return iterable<string>
     *
     * @throws WarcError
     */
    public function body(string $path, int $offset): iterable
    {
        return $this->decoded($this->answer($path, $offset));
    }

    /**
     * The fields of the answer, by name in lower case; of repeated ones all values, parted by line feeds.
     *
     * @return array<string, string>
     *
     * @throws WarcError
     */
    public function headers(Capture $capture): array
    {
        $headers = [];
        foreach ($this->answer($capture->warcFile->path, $capture->responseOffset)->head->fields->lines ?? [] as [$name, $value]) {
            $name = strtolower($name);
            $headers[$name] = isset($headers[$name]) ? $headers[$name]."\n".$value : $value;
        }

        return $headers;
    }

    /**
     * The document as it was received, or as it was rendered where that was kept, as text.
     *
     * @throws WarcError
     */
    public function markup(Capture $capture): string
    {
        if (null !== $capture->domOffset) {
            return mb_scrub(self::firstBytes($this->store->record($capture->warcFile->path, $capture->domOffset)->block()));
        }
        $answer = $this->answer($capture->warcFile->path, $capture->responseOffset);
        $bytes = self::firstBytes($this->decoded($answer));

        return mb_scrub(Charset::text(
            $bytes, (null === $answer->head ? $answer->record->header->contentType() : $answer->head->fields->get('Content-Type')) ?? '',
        ));
    }

    /**
     * What the document's title element says; '' if there is none in its beginning.
     *
     * @throws WarcError
     */
    public function title(Capture $capture): string
    {
        return 1 === preg_match('~<title\b[^<>]*>(.*?)(?:</title|\z)~is', $this->beginning($capture), $m)
            ? html_entity_decode($m[1], \ENT_QUOTES | \ENT_HTML5, 'UTF-8')
            : '';
    }

    /** The address that the page calls its own (RFC 6596); null if it does not say, or cannot be read. */
    public function canonical(Capture $capture): ?string
    {
        try {
            $html = 1 === preg_match('#html#', $capture->mime ?? '') ? $this->beginning($capture) : '';
        } catch (WarcError) {
            return null;
        }
        if (1 !== preg_match(
            '~<link\b(?=[^<>]*\brel\s*=\s*["\']?canonical\b)[^<>]*?\bhref\s*=\s*(?:"([^"]*)"|\'([^\']*)\'|([^\s>"\']+))~i', $html, $m,
        )) {
            return null;
        }
        $url = Url::tryParse(
            html_entity_decode(implode('', \array_slice($m, 1)), \ENT_QUOTES | \ENT_HTML5, 'UTF-8'), Url::tryParse($capture->url),
        );

        return null === $url ? null : (string) $url->withoutFragment();
    }

    private function beginning(Capture $capture): string
    {
        if (null !== $capture->domOffset) {
            [$pieces, $type] = [$this->store->record($capture->warcFile->path, $capture->domOffset)->block(), 'text/html; charset=utf-8'];
        } else {
            $answer = $this->answer($capture->warcFile->path, $capture->responseOffset);
            [$pieces, $type] = [
                $this->decoded($answer),
                (null === $answer->head ? $answer->record->header->contentType() : $answer->head->fields->get('Content-Type')) ?? '',
            ];
        }
        $bytes = self::firstBytes($pieces, self::BEGINNING);

        return Charset::text($bytes, $type);
    }

    /**
     * An answer of the store; of a revisit with the body that it refers to.
     *
     * @throws WarcError if the file is damaged or gone, or the original is not held
     */
    public function answer(string $path, int $offset): HttpRecord
    {
        $record = $this->store->record($path, $offset);
        if (!$record->header->is(RecordType::Revisit)) {
            return HttpRecord::ofSegments($record, $record->header->isSegment() ? $this->segments($record->header->id() ?? '') : []);
        }
        $original = $this->originals->of($record->header)
            ?? throw new WarcError(
                WarcFindingCode::MissingField, $offset, 'The record refers to another one for its content, and that is not held',
            );

        return HttpRecord::ofRevisit($record, $this->store->record($original->path, $original->offset));
    }

    /**
     * @return \Generator<int, Record>
     */
    private function segments(string $firstId): \Generator
    {
        foreach ($this->originals->segments($firstId) as $place) {
            yield $this->store->record($place->path, $place->offset);
        }
    }

    /**
     * @return iterable<string> the body with its content-coding taken off; as it is where that is not known here
     */
    private function decoded(HttpRecord $answer): iterable
    {
        try {
            return Body::decode($answer->body(), $answer->head?->fields->tokens('Content-Encoding') ?? []);
        } catch (UnsupportedCoding) {
            return [];
        }
    }

    /**
     * @param iterable<string> $pieces
     */
    private static function firstBytes(iterable $pieces, int $most = Document::MAX_BYTES): string
    {
        $bytes = '';
        foreach ($pieces as $piece) {
            $bytes .= $piece;
            if (\strlen($bytes) >= $most) {
                break;
            }
        }

        return $bytes;
    }
}
