// A window that shows one page: gjs webkit-window.js ADDRESS TITLE PROFILE [SCHEME FOLDER]
imports.gi.versions.Gtk = '3.0';
imports.gi.versions.WebKit2 = '4.1';
const { Gio, GLib, Gtk, WebKit2 } = imports.gi;

Gtk.init(null);
const [address, title, profile, scheme, folder] = ARGV;
const kept = new WebKit2.WebsiteDataManager({ base_data_directory: profile, base_cache_directory: profile });
const context = new WebKit2.WebContext({ website_data_manager: kept });
const manager = new WebKit2.UserContentManager();
manager.register_script_message_handler('shell');
const view = new WebKit2.WebView({ web_context: context, user_content_manager: manager });
// Without this a page of a file has no origin, and nobody could let it show reports.
view.get_settings().set_allow_file_access_from_file_urls(address.startsWith('file:'));
const window = new Gtk.Window({ title, default_width: 1280, default_height: 860 });

const answer = (call, value) =>
  view.evaluate_javascript(
    `shellAnswer(${JSON.stringify(call)}, ${JSON.stringify(value)})`,
    -1,
    null,
    null,
    null,
    null,
  );

/** A file that the person chooses in the desktop’s own dialogue: its path, or null. */
const choose = ({ save, name }) => {
  const action = save ? Gtk.FileChooserAction.SAVE : Gtk.FileChooserAction.OPEN;
  const dialogue = Gtk.FileChooserNative.new(title, window, action, null, null);
  if (save) {
    dialogue.set_do_overwrite_confirmation(true);
    dialogue.set_current_name(name);
  }
  const isChosen = dialogue.run() === Gtk.ResponseType.ACCEPT;
  return isChosen ? dialogue.get_filename() : null;
};

manager.connect('script-message-received::shell', (_manager, result) => {
  const { call, ...asked } = JSON.parse(result.get_js_value().to_string());
  answer(call, choose(asked));
});

if (scheme)
  context.register_uri_scheme(scheme, (request) => {
    const file = Gio.File.new_for_path(folder).resolve_relative_path(`./${request.get_path()}`);
    const [, bytes] = file.load_contents(null);
    const [type] = Gio.content_type_guess(file.get_path(), bytes);
    request.finish(Gio.MemoryInputStream.new_from_bytes(bytes), bytes.length, Gio.content_type_get_mime_type(type));
  });

// The page is asked whether it may be left: elements with unsaved work say no, and the person is asked.
window.connect('delete-event', () => {
  view.try_close();
  return true;
});
view.connect('close', () => Gtk.main_quit());
view.connect('notify::title', () => window.set_title(view.get_title() || title));

const input = new Gio.DataInputStream({ base_stream: new Gio.UnixInputStream({ fd: 0 }) });
const listen = () =>
  input.read_line_async(GLib.PRIORITY_DEFAULT, null, (_stream, result) => {
    const [line] = input.read_line_finish_utf8(result);
    // Whoever opened the window is gone.
    if (line === null) return Gtk.main_quit();
    if (line === 'focus') window.present();
    listen();
  });
listen();

window.add(view);
view.load_uri(address);
window.show_all();
Gtk.main();
