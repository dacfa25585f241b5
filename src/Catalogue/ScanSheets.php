<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Ypomna\App\Catalogue\Value\PageFound;
use Ypomna\App\Catalogue\Value\RecordRole;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\BulkInsert;
use Ypomna\App\Shared\Codes;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Page\Text;

/** What a scan finds, as statements for the tables: records at once, pages in the tables of {@see PagesOfFile}. */
final readonly class ScanSheets implements ScanTarget
{
    public const RECORD = 'at_offset, role, url_hash, key_hash, captured_at, method, status, mime, length, payload_sha256, url,'
        .' record_id_hash, revisit, request_sha256, cut';
    private const PAGE = 'response_offset, record_id, record_hash, code, url_key, key_hash, address_url, address_code, url, captured_at,'
        .' status, mime, payload_sha256, redirect_to, opened';

    /** Bytes of a fragment that leads to a place; what is longer is no place's name. */
    private const LONGEST_FRAGMENT = 500;

    private BulkInsert $records;
    private BulkInsert $pages;
    private BulkInsert $notes;

    /**
     * @param int $file number of the file
     * @param \Closure(string): void $run takes a statement
     */
    public function __construct(private int $file, \Closure $run, private CodeSource $codes)
    {
        $this->records = new BulkInsert('record (warc_file_id, '.self::RECORD.')', $run);
        $this->pages = new BulkInsert(PagesOfFile::PAGES.' ('.self::PAGE.')', $run);
        $this->notes = new BulkInsert(PagesOfFile::NOTES.' (record_hash, role, at_offset, title, completeness)', $run);
    }

    public function record(array $row): void
    {
        $this->records->add([$this->file, ...$row]);
    }

    public function page(PageFound $page): void
    {
        $id = '' === $page->recordId ? ' at '.$page->offset : $page->recordId;
        $this->pages->add([
            $page->offset, $id, AddressKeys::idHash($id),
            CodeSource::Digests === $this->codes ? Codes::of('capture '.$id) : Codes::random(),
            $page->key, (string) hex2bin(AddressKeys::hashOf($page->key)), $page->canonical,
            CodeSource::Random === $this->codes ? Codes::random() : Codes::of('address '.$page->key),
            mb_scrub($page->url), $page->at, $page->status, null === $page->mime ? null : mb_strcut(mb_scrub($page->mime), 0, 100),
            null === $page->payloadSha256 ? null : (string) hex2bin($page->payloadSha256),
            null === $page->redirectTo ? null : mb_scrub($page->redirectTo), $page->opened ? 1 : 0,
        ]);
    }

    public function derivative(string $recordId, RecordRole $role, int $offset): void
    {
        $this->notes->add([AddressKeys::idHash($recordId), $role->value, $offset, null, null]);
    }

    public function requested(string $recordId, string $url): void
    {
        $fragment = Url::tryParse($url)->fragment ?? '';
        if ('' !== $fragment && \strlen($fragment) <= self::LONGEST_FRAGMENT) {
            $this->notes->add([AddressKeys::idHash($recordId), 'fragment', 0, mb_scrub($fragment), null]);
        }
    }

    public function title(string $recordId, string $title): void
    {
        $this->notes->add([AddressKeys::idHash($recordId), 'title', 0, self::plain($title), null]);
    }

    public function completeness(string $recordId, string $verdict, string $facts): void
    {
        $this->notes->add([AddressKeys::idHash($recordId), $verdict, 0, null, $facts]);
    }

    /** A title as it is shown; '' if there is nothing in it. */
    public static function plain(string $title): string
    {
        return mb_strimwidth(Text::normalise(mb_scrub($title)), 0, 400, '…');
    }

    public function flush(): void
    {
        foreach ([$this->records, $this->pages, $this->notes] as $sheet) {
            $sheet->flush();
        }
    }
}
