<?php

declare(strict_types=1);

namespace Ypomna\Core\Completeness;

use Ypomna\Core\Page\RequisiteKind;
use Ypomna\Core\Page\Requisites;

/**
 * Recognises pages that are not what a reader came for. Words alone decide nothing on a page that has much to read: an
 * article about passwords is no login.
 */
final class Troubles
{
    /** A page with more words than this is taken for what was asked for. */
    private const SHORT = 180;

    private const NOT_FOUND = '/\b(?:page|document|file|article|story|content|site|resource|url|item|product|listing)\b[^.!?\n]{0,40}\b(?:(?:was|is|were|could|can|has|have)\s*(?:not|n[’\']t|no longer)\b|not (?:be )?(?:found|available|exist)|(?:doesn|does|do|isn|couldn|can|wasn)\s*[’\']?\s*(?:n[o’\']?t)\s+(?:be )?(?:exist|found|available|seem)|no longer (?:exists?|available|here|there)|(?:has|have) been (?:removed|deleted|withdrawn|taken down)|was (?:removed|deleted|withdrawn|taken down)|cannot be found|is missing)|\b(?:not found|404 error|error 404|http 404)\b|^\s*404\b'
        .'|seite (?:wurde )?(?:leider )?nicht (?:gefunden|mehr)|nicht gefunden|existiert nicht|page (?:introuvable|non trouvée)|n[’\']existe (?:pas|plus)|página no (?:encontrada|existe)|no se ha encontrado|pagina non trovata|δεν (?:βρέθηκε|υπάρχει)|ページが見つかりません|見つかりませんでした|存在しません'
        .'|sivua ei (?:löyty\w*|ole\w*)|ei löytynyt|siden (?:blev ikke|ble ikke|kunne ikke|kan ikke|findes ikke|finnes ikke|eksisterer ikke)|ikke (?:fundet|funnet)|fant ikke siden|sidan (?:kunde inte|hittades inte|finns inte)|hittades inte|pagina (?:niet gevonden|bestaat niet|inesistente|nu (?:a fost găsit\w*|există)|căutată nu există)|niet gevonden|nu a fost găsit\w*|non (?:è stat\w+ trovat\w+|esiste)'
        .'|stránk\w+ (?:nenalezen\w*|nebyla nalezena|neexistuje|sa nenašla|nebola nájdená)|nenalezen\w*|oldal nem (?:található|létezik)|nem található|stranica nije (?:pronađena|nađena)|stran(?:i ni mogoče najti| ne obstaja)|nie znaleziono(?: strony)?|strona (?:nie istnieje|nie została znaleziona)|lehte ei leitud|lapa nav atrasta|puslapis nerastas|no s[’\']ha trobat|página (?:não|inexistente)[^.!?\n]{0,20}|não (?:foi )?encontrad\w+'
        .'|страниц\w+ не (?:найден\w*|существует|е намерена|съществува)|не найден\w*|сторінк\w+ не (?:знайден\w*|існує)|не знайдено|страница није пронађена|sayfa (?:bulunamadı|mevcut değil)|bulunamadı|không tìm thấy(?: trang)?|trang (?:này )?không tồn tại|halaman tidak (?:ditemukan|dijumpai)|tidak ditemukan'
        .'|صفحه[^.؟!\n]{0,20}(?:یافت نشد|پیدا نشد|وجود ندارد)|یافت نشد|الصفحة[^.؟!\n]{0,20}غير موجودة|لم يتم العثور|(?:הדף|העמוד)[^.!?\n]{0,15}לא (?:נמצא|קיים)|לא נמצא|(?:पृष्ठ|पेज) नहीं मिला|ไม่พบหน้า|페이지를 찾을 수 없|존재하지 않는 페이지|(?:页面|頁面|网页|網頁)(?:不存在|未找到|找不到)|找不到[^。\n]{0,8}(?:页面|頁面|网页|網頁)/iu';
    private const CHALLENGE = '/(?:checking|verifying|confirm(?:ing)?) (?:that )?(?:if )?(?:your browser|the site connection|(?:that )?you(?:\'|’)?(?:re| are)? (?:a )?(?:human|not a robot))|verify (?:that )?you(?:\'|’)?(?:re| are) (?:a )?(?:human|not a robot|person)|are you (?:a )?(?:human|robot)|i(?:\'|’)?a?m not a robot|unusual (?:traffic|activity)|automated (?:requests|queries|access)|complete the (?:captcha|security check)|\bcaptcha\b|security check|enable javascript and cookies to continue|just a moment|one more step|attention required|press and hold|prove (?:that )?you(?:\'|’)?(?:re| are)|bist du ein (?:mensch|roboter)|kein roboter|δεν είστε ρομπότ|είστε άνθρωπος|ロボットではありません/iu';
    private const LOGIN = '/\b(?:log ?in|sign ?in|log ?on|anmelden|einloggen|connexion|se connecter|iniciar sesión|accedi|σύνδεση|συνδεθείτε|inloggen|aanmelden|logga in|log ind|logg inn|kirjaudu|zaloguj|přihlásit|bejelentkezés|autentificare|войти|вход|увійти|entrar|iniciar sessão|giriş yap|đăng nhập|masuk)\b|ログイン|登录|登錄|로그인|تسجيل الدخول|ورود|התחבר|เข้าสู่ระบบ/iu';
    private const PAYWALL = '/(?:log ?in|sign ?in|subscribe|register|become a (?:member|subscriber)|create an? (?:free )?account)[^.!?\n]{0,60}(?:to (?:continue|keep|read|view|see|access|unlock)|for (?:full )?access)|(?:to (?:continue|keep) reading|to read (?:the|this) (?:full|whole|rest)|this (?:article|content|story|page|thread|topic|forum) is (?:only )?(?:for|available to|reserved for|visible to) (?:\w+ )?(?:subscribers|members|registered))|only (?:members|subscribers|registered users)|must be (?:logged|signed) in|members only|you (?:need|have) to (?:log|sign) in/iu';
    private const CONSENT = '/\b(?:cookies?|consent|privacy|personal data|gdpr|datenschutz|einwilligung|cookies akzeptieren|vie privée|confidentialité|privacidad|απόρρητο|συγκατάθεση|toestemming|integritet|samtycke|samtykke|evästeet|prywatność|ciastec\w+|soukromí|adatvédelem|confidențialitate|privacidade|consentimento|consenso|конфиденциальност\w*|куки|файлов? cookie|конфіденційн\w*|çerez\w*|gizlilik|quyền riêng tư)\b|cookie|同意|クッキー|隐私|隱私|쿠키|개인정보|ملفات تعريف الارتباط|الخصوصية|עוגיות|פרטיות|คุกกี้/iu';
    private const WAITING = '/^\W*(?:loading|please wait|wait|one moment|laden|lädt|chargement|cargando|caricamento|φόρτωση|読み込み中|initiali[sz]ing|starting)?\W*(?:loading|please wait|…|\.{3})?\W*$/iu';
    private const NEEDS_SCRIPT = '/(?:enable|turn on|requires?|needs?|activate|without) (?:\w+ )?javascript|javascript (?:is |must be |has to be )?(?:required|disabled|enabled|turned off|not enabled)|javascript aktivieren/iu';

    /**
     * @return list<Trouble>
     */
    public static function of(PageSeen $page): array
    {
        $words = $page->words();
        $short = $words < self::SHORT;
        $troubles = [];
        if ($short && self::challenges($page)) {
            $troubles[] = Trouble::Challenge;
        } elseif (self::asksForLogin($page, $words)) {
            $troubles[] = Trouble::Login;
        } elseif ($page->status >= 400) {
            $troubles[] = Trouble::ErrorStatus;
        } elseif ($short && self::saysNotFound($page, $words)) {
            $troubles[] = Trouble::Soft404;
        } elseif (self::isShell($page, $words)) {
            $troubles[] = Trouble::EmptyShell;
        }
        if ($page->covered) {
            $troubles[] = Trouble::Consent;
        }
        if ($page->grows) {
            $troubles[] = Trouble::EndlessScroll;
        }
        foreach (1 === preg_match('/<(?:object|embed|applet)\b/i', $page->html) ? Requisites::all($page->html)[1] : [] as $part) {
            if (RequisiteKind::Plugin === $part->kind) {
                $troubles[] = Trouble::Plugin;
                break;
            }
        }

        return $troubles;
    }

    /** Whether words are those of a request for consent. */
    public static function asksForConsent(string $text): bool
    {
        return 1 === preg_match(self::CONSENT, mb_scrub($text));
    }

    /** The words by which a text says that something was not found; '' if it does not. */
    public static function notFoundIn(string $text): string
    {
        return 1 === preg_match(self::NOT_FOUND, mb_scrub($text), $m) ? $m[0] : '';
    }

    private static function challenges(PageSeen $page): bool
    {
        $marked = 1 === preg_match('#<(?:iframe|script|form|div|input)\b[^<>]{0,2000}\b(?:src|action|id|class|name)\s*=\s*["\']?[^"\'<>]{0,500}(?:captcha|challenge|bot-?check|human-?check)#i', $page->html);
        $said = 1 === preg_match(self::CHALLENGE, mb_scrub($page->title."\n".$page->text));

        // A form to write to somebody may end in a riddle, too.
        return $said || ($marked && \in_array($page->status, [403, 429, 503], true)) || ($marked && $page->words() < 40);
    }

    private static function asksForLogin(PageSeen $page, int $words): bool
    {
        if (401 === $page->status) {
            return true;
        }
        $password = 1 === preg_match('/<input\b[^<>]*\btype\s*=\s*["\']?password\b/i', $page->html);
        $text = mb_scrub($page->title."\n".$page->text);
        $path = (string) parse_url($page->url, \PHP_URL_PATH).'?'.(string) parse_url($page->url, \PHP_URL_QUERY);
        $ledThere = $page->url !== $page->asked && 1 === preg_match('#(?:^|[/?&=_-])(?:log-?in|sign-?in|log-?on|auth(?:enticate|orize)?|sso|anmelden)(?:[/?&=._-]|$)#i', $path);

        return match (true) {
            $password && $ledThere => true,
            $password => $words < 90 && 1 === preg_match(self::LOGIN, $text),
            default => $words < 400 && 1 === preg_match(self::PAYWALL, $text),
        };
    }

    private static function saysNotFound(PageSeen $page, int $words): bool
    {
        // The title, the first lines: where a page says it, it says it there.
        $beginning = mb_substr(trim($page->text), 0, 400);
        $heading = 1 === preg_match('~<h[12]\b[^<>]*>(.*?)</h[12]>~is', $page->html, $m) ? html_entity_decode(strip_tags($m[1]), \ENT_QUOTES | \ENT_HTML5, 'UTF-8') : '';

        return 1 === preg_match(self::NOT_FOUND, mb_scrub($page->title)) || 1 === preg_match(self::NOT_FOUND, mb_scrub(trim($heading))) || ($words < 60 && 1 === preg_match(self::NOT_FOUND, mb_scrub($beginning)));
    }

    private static function isShell(PageSeen $page, int $words): bool
    {
        $text = trim(mb_scrub($page->text));
        $hasScripts = 1 === preg_match('/<script\b/i', $page->html);

        return 0 === $page->substance && (('' === $text || 1 === preg_match(self::WAITING, $text)) || ($words < 40 && $hasScripts && 1 === preg_match(self::NEEDS_SCRIPT, $text)));
    }
}
