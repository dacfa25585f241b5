<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\App\Replay\CaptureLinks;
use Ypomna\App\Replay\PageHosts;
use Ypomna\App\Replay\ReplayMode;
use Ypomna\Core\Address\AddressList;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Citation\BibDraft;
use Ypomna\Core\Citation\CslDraft;
use Ypomna\Core\Citation\CsvDraft;
use Ypomna\Core\Citation\DocxDraft;
use Ypomna\Core\Citation\DraftReferences;
use Ypomna\Core\Citation\HtmlDraft;
use Ypomna\Core\Citation\MarkdownDraft;
use Ypomna\Core\Citation\OdtDraft;
use Ypomna\Core\Citation\PlainDraft;
use Ypomna\Core\Citation\RisDraft;
use Ypomna\Core\Citation\UnreadableDraft;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Glance;
use Ypomna\Core\Page\MainText;
use Ypomna\Core\Page\Refresh;
use Ypomna\Core\Page\Requisites;
use Ypomna\Core\Replay\CssRewriter;
use Ypomna\Core\Replay\HtmlRewriter;
use Ypomna\Core\Replay\ReferenceMapper;
use Ypomna\Core\Replay\ScriptRewriter;

/** Every part of the core that reads what others wrote. */
final class HostileReaders
{
    public const NAMES = [
        'requisites', 'requisites of styles', 'glance', 'page', 'text', 'table', 'main text', 'refresh', 'charset', 'address list',
        'rewriting markup', 'rewriting styles',
        'rewriting scripts', 'draft html', 'draft markdown', 'draft text', 'draft bibtex', 'draft ris', 'draft csl', 'draft csv',
        'draft docx', 'draft odt',
    ];

    public static function isOffice(string $name): bool
    {
        return \in_array($name, ['draft docx', 'draft odt'], true);
    }

    /** What a draft's reader refuses by saying so is read as well. */
    public static function read(string $name, string $text): void
    {
        $url = Url::parse('http://lantern.test/');
        $mapper = new ReferenceMapper(new CaptureLinks(new PageHosts('localhost'), '222222222222', ReplayMode::Alive, 'http', ':80'), $url);
        $of = DraftReferences::of(...);
        try {
            match ($name) {
                'requisites' => Requisites::all($text),
                'requisites of styles' => Requisites::inStyle($text),
                'glance' => Glance::at($text, $url),
                'page' => Document::fromHtml($text, 'text/html'),
                'text' => Document::fromText($text),
                'table' => Document::fromCsv($text),
                'main text' => MainText::fromHtml($text, 'text/html'),
                'refresh' => Refresh::target($text, 'text/html', $url, 5),
                'charset' => Charset::toUtf8($text, Charset::detect($text, null)),
                'address list' => AddressList::read($text),
                'rewriting markup' => (new HtmlRewriter($mapper))->rewrite($text),
                'rewriting styles' => (new CssRewriter($mapper))->rewrite($text),
                'rewriting scripts' => (new ScriptRewriter($mapper))->rewrite($text, true),
                'draft html' => $of(new HtmlDraft($text)),
                'draft markdown' => $of(new MarkdownDraft($text)),
                'draft text' => $of(new PlainDraft($text)),
                'draft bibtex' => $of(new BibDraft($text)),
                'draft ris' => $of(new RisDraft($text)),
                'draft csl' => $of(new CslDraft($text)),
                'draft csv' => $of(new CsvDraft($text)),
                'draft docx' => self::packed(
                    $text,
                    'word/document.xml',
                    '<w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:body>%s</w:body></w:document>',
                    static fn (string $path) => $of(new DocxDraft($path)),
                ),
                'draft odt' => self::packed(
                    $text,
                    'content.xml',
                    '<office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"'
                        .' xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"><office:body><office:text>%s</office:text>'
                            .'</office:body></office:document-content>',
                    static fn (string $path) => $of(new OdtDraft($path)),
                ),
                default => throw new \InvalidArgumentException('There is no such reader: '.$name),
            };
        } catch (UnreadableDraft) {
            return;
        }
    }

    /** @param callable(string): mixed $read */
    private static function packed(string $text, string $part, string $around, callable $read): void
    {
        $folder = new Folder();
        $path = $folder->file('draft', '');
        $zip = new \ZipArchive();
        $zip->open($path, \ZipArchive::OVERWRITE);
        $zip->addFromString('[Content_Types].xml', '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"/>');
        $zip->addFromString('mimetype', 'application/vnd.oasis.opendocument.text');
        $zip->addFromString($part, '<?xml version="1.0"?>'.str_replace('%s', $text, $around));
        $zip->close();
        unset($text);
        $read($path);
    }
}
