<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Catalogue\Indexer;
use Ypomna\App\Catalogue\Value\Limit;
use Ypomna\App\Compare\Describer;
use Ypomna\App\Exchange\Value\ImportResult;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Store\Conversion;
use Ypomna\App\Store\ConversionFailed;
use Ypomna\App\Store\MirroredLedger;
use Ypomna\App\Store\Store;
use Ypomna\App\Store\Value\FileKind;
use Ypomna\App\Store\Value\Witness;
use Ypomna\Core\Warc\WarcError;
use Ypomna\Core\Warc\WarcReader;

/**
 * Takes in files that others made: stored unchanged under their digest, entered in the ledger, and in the catalogue by what
 * is read from them; of other formats than WARC by a WARC file that is made from them.
 */
final readonly class Importer
{
    public function __construct(
        private Store $store,
        private MirroredLedger $ledger,
        private Indexer $indexer,
        private Describer $describer,
        private Conversion $conversion,
        private CaptureLimits $limits,
    ) {
    }

    /**
     * @param bool $confidential whether only whoever hands it in may see what it brings
     * @param Witness|null $witness where it is somebody's own copy of a page
     *
     * @throws UnusableFile
     */
    public function file(string $path, Actor $by, bool $confidential = false, ?Witness $witness = null): ImportResult
    {
        $limit = $confidential ? Limit::confidential($by->name) : Limit::none();
        $name = basename($path);
        [$incoming, $sha256] = $this->copy($path, $name);
        try {
            $kind = FileKind::of($incoming)
                ?? throw new UnusableFile('exchange.file_is_of_no_known_kind', ['file' => $name]);
            $stem = 'taken-in/'.substr($sha256, 0, 2).'/'.$sha256;
            $isWarc = FileKind::Warc === $kind;
            if ($isWarc) {
                $this->mustBeWarc($incoming, $name);
            }
            $packed = $isWarc && "\x1f\x8b" === file_get_contents($incoming, false, null, 0, 2);
            $target = $stem.'.'.$kind->extension().($packed ? '.gz' : '');
            $known = $this->indexer->numberOf($sha256, $stem.'.converted.warc.gz');
            if (null !== $known) {
                // Whoever was killed between the catalogue and this finds it done now.
                $this->describer->few($known);
                $this->limits->alsoMadeBy($by, $known);

                return new ImportResult($name, $sha256, true, 0, 0, [], $known);
            }
            if (!$this->store->has($target)) {
                $this->store->commit($incoming, $target);
            }
        } finally {
            @unlink($incoming);
        }

        return $isWarc
            ? $this->enter($target, $name, $sha256, $sha256, ['agent' => $by->name] + self::witnessed($witness), $limit)
            : $this->convert($kind, $target, $stem.'.converted.warc.gz', $path, $sha256, $by, $limit, $witness);
    }

    /** The original is an accession of its own; what is catalogued is a WARC file that was made from it. */
    private function convert(
        FileKind $kind,
        string $original,
        string $target,
        string $given,
        string $sha256,
        Actor $by,
        Limit $limit,
        ?Witness $witness,
    ): ImportResult {
        $name = basename($given);
        $accession = $this->ledger->once(
            'file.accession',
            $original,
            [
                'sha256' => $sha256, 'bytes' => $this->store->size($original), 'name' => $name, 'kind' => $kind->value,
                'agent' => $by->name,
            ],
        );
        if (!$this->store->has($target)) {
            $incoming = $this->store->incoming(bin2hex(random_bytes(8)));
            $changed = @filemtime($given);
            $moment = false === $changed ? $accession->at : (new \DateTimeImmutable('@'.$changed))->setTimezone(new \DateTimeZone('UTC'));
            try {
                $this->conversion->toWarc($kind, $this->store->local($original), $given, $sha256, $moment, $incoming, $witness);
            } catch (ConversionFailed $e) {
                throw new UnusableFile('exchange.file_cannot_be_converted', ['file' => $name, 'reason' => $e->getMessage()], $e);
            }
            $this->store->commit($incoming, $target);
        }

        return $this->enter($target, $name, $sha256, $this->store->digest($target),
            ['from' => $original, 'agent' => $by->name] + self::witnessed($witness), $limit);
    }

    /** @return array<string, string> */
    private static function witnessed(?Witness $witness): array
    {
        return null === $witness ? [] : ['witness' => 'browser'];
    }

    /**
     * @param array<string, string> $details for the ledger
     */
    private function enter(string $target, string $name, string $given, string $sha256, array $details, Limit $limit): ImportResult
    {
        $line = $this->ledger->once(
            'file.taken-in', $target, ['sha256' => $sha256, 'bytes' => $this->store->size($target), 'name' => $name] + $details,
        );
        $report = $this->indexer->enter($target, $sha256, WarcFile::TAKEN_IN, $name, $line->at, limit: $limit,
            ofWitness: 'browser' === ($line->details['witness'] ?? null));
        $this->describer->few($report->file);

        return new ImportResult($name, $given, false, $report->records, $report->captures, $report->findings, $report->file);
    }

    /**
     * @return array{string, string} path of the copy, and its digest
     */
    private function copy(string $path, string $name): array
    {
        $in = is_file($path) ? @fopen($path, 'r') : false;
        if (false === $in) {
            throw new UnusableFile('exchange.file_is_not_there', ['file' => $path]);
        }
        $incoming = $this->store->incoming(bin2hex(random_bytes(8)));
        $out = @fopen($incoming, 'x');
        $digest = hash_init('sha256');
        try {
            while (false !== $out && '' !== ($piece = (string) fread($in, 1_048_576))) {
                hash_update($digest, $piece);
                if (@fwrite($out, $piece) !== \strlen($piece)) {
                    throw new UnusableFile('exchange.disk_took_no_more_of_file', ['file' => $name]);
                }
            }
            if (false === $out || !fflush($out) || !fsync($out)) {
                throw new UnusableFile('exchange.store_cannot_be_written_to', ['file' => $name]);
            }
        } catch (UnusableFile $e) {
            @unlink($incoming);
            throw $e;
        } finally {
            fclose($in);
            if (false !== $out) {
                fclose($out);
            }
        }

        return [$incoming, hash_final($digest)];
    }

    private function mustBeWarc(string $path, string $name): void
    {
        try {
            $first = WarcReader::open($path)->records()->current();
        } catch (WarcError $e) {
            throw new UnusableFile('exchange.file_is_no_warc_because', ['file' => $name, 'reason' => $e->getMessage()], $e);
        }
        if (null === $first) {
            throw new UnusableFile('exchange.file_is_no_warc_without_record', ['file' => $name]);
        }
    }
}
