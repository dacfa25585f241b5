<?php

declare(strict_types=1);

namespace Ypomna\App\Store;

use Symfony\Component\Filesystem\Filesystem;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Software;
use Ypomna\App\Store\Value\FileKind;
use Ypomna\App\Store\Value\Witness;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Mhtml\MhtmlReader;
use Ypomna\Core\Mhtml\WarcConversion;
use Ypomna\Core\Page\Requisites;
use Ypomna\Core\Warc\Block;
use Ypomna\Core\Warc\ResourceFile;

/** Makes a WARC file of what was kept in another format, so that it can be read, compared and found like a capture. */
final readonly class Conversion
{
    private const MAX_DOCUMENT = 16_777_216;
    private const MAX_FILES = 2_000;

    public function __construct(private DataFolder $folder)
    {
    }

    /**
     * @param string $path the file in the store
     * @param string $given where it lay when it was given: what lies beside it may belong to it
     * @param string $sha256 of the file, hex
     * @param \DateTimeImmutable $moment of the file where it says none of its own
     * @param string $target path of the WARC file; it is made and synced
     * @param Witness|null $witness where it is somebody's own copy of a page
     *
     * @throws ConversionFailed
     */
    public function toWarc(
        FileKind $kind,
        string $path,
        string $given,
        string $sha256,
        \DateTimeImmutable $moment,
        string $target,
        ?Witness $witness = null,
    ): void {
        $out = @fopen($target, 'x');
        if (false === $out) {
            throw new ConversionFailed('The store cannot be written to.');
        }
        $work = $this->folder->newWork('convert');
        $files = new Filesystem();
        try {
            $files->mkdir($work, 0o700);
            match ($kind) {
                FileKind::Mhtml, FileKind::Mail => $this->mhtml($out, $kind, $path, basename($given), $sha256, $moment, $work, $witness),
                FileKind::Html => null === $witness ? $this->html($out, $path, $given, $sha256, $moment)
                    : $this->single($out, $kind, $path, basename($given), $sha256, $moment, $witness),
                default => $this->single($out, $kind, $path, basename($given), $sha256, $moment, $witness),
            };
            if (!fflush($out) || !fsync($out)) {
                throw new ConversionFailed('The converted file could not be written to the disk for good.');
            }
        } catch (\RuntimeException $e) {
            @unlink($target);
            throw $e instanceof ConversionFailed ? $e : new ConversionFailed($e->getMessage(), 0, $e);
        } finally {
            fclose($out);
            $files->remove($work);
        }
    }

    /**
     * @param resource $out
     */
    private function mhtml(
        $out,
        FileKind $kind,
        string $path,
        string $name,
        string $sha256,
        \DateTimeImmutable $moment,
        string $work,
        ?Witness $witness,
    ): void {
        $archive = MhtmlReader::read($path);
        $fields = $archive->message?->headers->fields;
        $date = $witness->statement->at ?? self::date($fields?->get('Date')) ?? $moment;
        $from = [
            'name' => $name,
            'kind' => $kind->value,
            'date' => $fields?->get('Date'),
            'snapshotContentLocation' => $fields?->get('Snapshot-Content-Location'),
            'from' => $fields?->get('From'),
        ];
        $file = self::file($out, $sha256, $date, $from, $witness);
        $pages = WarcConversion::write($archive, $file, $work, self::authority($sha256));
        if (null !== $witness) {
            if (1 !== \count($pages)) {
                throw new ConversionFailed(\sprintf('A copy of one page is wanted; this file has %d.', \count($pages)));
            }
            self::mustBeOf($witness, $pages[0][1]);
            self::pictures($file, $witness, ...$pages[0]);
        }
    }

    /**
     * A document with what lies beside it and belongs to it.
     *
     * @param resource $out
     */
    private function html($out, string $path, string $given, string $sha256, \DateTimeImmutable $moment): void
    {
        $bytes = (string) file_get_contents($path, false, null, 0, self::MAX_DOCUMENT);
        $html = Charset::text($bytes);
        // Browsers that save a page write its address into it.
        $saved = 1 === preg_match('/<!--\s*saved from url=\(\d+\)(https?:\S+?)\s*-->/i', substr($html, 0, 4_096), $m)
            ? Url::tryParse($m[1])
            : null;
        $url = $saved?->withoutFragment() ?? Url::parse('http://'.self::authority($sha256).'/'.rawurlencode(basename($given)));
        $file = new ResourceFile(
            $out,
            $sha256,
            $moment,
            Software::NAME,
            ['name' => basename($given), 'kind' => FileKind::Html->value, 'savedFrom' => null === $saved ? null : (string) $saved],
        );
        $page = $file->resource((string) $url, 'text/html', Block::ofFile($path));
        foreach (self::beside($html, \dirname($given), $url) as $address => $part) {
            $file->resource($address, FileKind::mediaType($part), Block::ofFile($part));
        }
        $file->page($page, (string) $url, '');
    }

    /**
     * @param resource $out
     */
    private function single(
        $out,
        FileKind $kind,
        string $path,
        string $name,
        string $sha256,
        \DateTimeImmutable $moment,
        ?Witness $witness = null,
    ): void {
        // What shows a part of a page is not what is at its address.
        $said = null === $witness?->statement->part ? $witness?->statement->url : null;
        $url = null === $said ? 'http://'.self::authority($sha256).'/'.rawurlencode($name)
            : (string) Url::parse($said)->withoutUserinfo()->withoutFragment();
        $file = self::file($out, $sha256, $witness->statement->at ?? $moment, ['name' => $name, 'kind' => $kind->value], $witness);
        $page = $file->resource($url, FileKind::mediaType($path), Block::ofFile($path), isPage: true);
        $file->page($page, $url, null === $witness ? $name : '');
        if (null !== $witness) {
            self::pictures($file, $witness, $page, $url);
        }
    }

    /**
     * @param resource $out
     * @param array<string, mixed> $from
     */
    private static function file($out, string $sha256, \DateTimeImmutable $moment, array $from, ?Witness $witness): ResourceFile
    {
        return null === $witness ? new ResourceFile($out, $sha256, $moment, Software::NAME, $from)
            : new ResourceFile($out, $sha256, $moment, Software::NAME, $from, $witness->statement->person, 'witness', $witness->statement);
    }

    /** A file that says that it is of another page than its browser said is nobody's witness. */
    private static function mustBeOf(Witness $witness, string $url): void
    {
        $plain = static fn (string $one): string => (string) (Url::tryParse($one)?->withoutUserinfo()->withoutFragment() ?? $one);
        if (null !== $witness->statement->url && $plain($witness->statement->url) !== $plain($url)) {
            throw new ConversionFailed(\sprintf(
                'The file says that it is of “%s”, but the browser said “%s”.', mb_strimwidth(mb_scrub($url), 0, 300, '…'),
                mb_strimwidth($witness->statement->url, 0, 300, '…'),
            ));
        }
    }

    private static function pictures(ResourceFile $file, Witness $witness, string $page, string $url): void
    {
        if (null !== $witness->picture) {
            $file->picture($page, $url, FileKind::mediaType($witness->picture), Block::ofFile($witness->picture));
        }
    }

    /**
     * Files that a document names by a relative address and that lie below its own folder; nothing else is ever read.
     *
     * @return array<string, string> path by address
     */
    private static function beside(string $html, string $folder, Url $url): array
    {
        $root = realpath($folder);
        $found = [];
        foreach (Requisites::of($html)[1] as $any) {
            foreach ($any as $reference) {
                $relative = rawurldecode((string) preg_replace('/[?#].*$/s', '', $reference));
                if (1 === preg_match('#^(?:[a-z][a-z0-9+.-]*:|/)#i', $reference) || false === $root || str_contains($relative, "\0")) {
                    continue;
                }
                $path = realpath($root.'/'.$relative);
                $address = Url::tryParse($reference, $url);
                if (false !== $path && null !== $address && is_file($path) && str_starts_with($path, $root.'/')
                    && \count($found) < self::MAX_FILES) {
                    $found[(string) $address->withoutFragment()] = $path;
                }
            }
        }

        return $found;
    }

    private static function authority(string $sha256): string
    {
        return substr($sha256, 0, 12).'.taken-in.invalid';
    }

    /** A date of a mail header (RFC 5322 section 3.3), comments left out. */
    private static function date(?string $text): ?\DateTimeImmutable
    {
        if (null === $text || 1 !== preg_match('/\d{4}/', $text)) {
            return null;
        }
        try {
            return (new \DateTimeImmutable(trim((string) preg_replace('/\([^()]*\)/', '', $text))))->setTimezone(new \DateTimeZone('UTC'));
        } catch (\Exception) {
            return null;
        }
    }
}
